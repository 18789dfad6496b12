import {
  chaptersOf,
  contentHash,
  editItem,
  EMPTY_FIELDS,
  fieldsOf,
  frontPicture,
  keptStreams,
  kindOf,
  timedOf,
  type Edits,
  type ArrivalId,
  type Content,
  type FieldName,
  type Fields,
  type FormatId,
  type FrontPicture,
  type Item,
  type ItemId,
  type Overlay,
  type PictureFact,
  type PictureRole,
  type Saying,
  type SourceId,
  type Stream,
} from '../../items';
import type { Certainty, Kind } from '../../kinds';
import {
  fileOf,
  isFresh,
  isVideo,
  losesSubtitles,
  tracksOnTwin,
  twinKey,
  type Twin,
  type TwinRecipe,
} from '../../twins';

/** What planning needs of an item, small enough to send to a worker by the hundred thousand. */
export interface PlanItem {
  readonly id: ItemId;
  readonly arrival: ArrivalId;
  readonly source: SourceId;
  /** Its file has gone from its folder. */
  readonly isGone: boolean;
  readonly path: string;
  readonly size: number;
  /** Milliseconds since 1970. */
  readonly modified: number;
  readonly format: FormatId;
  readonly kind: Kind | null;
  readonly settled: boolean;
  readonly certainty: Certainty;
  readonly nextKind: Kind | null;
  readonly fields: Fields;
  /** The fields that its copy will carry: its format decides which edits reach it. */
  readonly outgoingFields: Fields;
  readonly file: Content;
  readonly edits: Overlay;
  /** What of the edits is written into its copy. */
  readonly outgoing: Overlay;
  /** What the copy is told to be; null where its tags say what they say. */
  readonly outgoingKind: Kind | null;
  /** What of them its format cannot hold. */
  readonly unheld: readonly Unheld[];
  /** Its tags can be written: its format's can, and nothing in the file stands against it. */
  readonly writable: boolean;
  /** What stands against it; null when nothing does. */
  readonly locked: NonNullable<Item['facts']['locked']> | null;
  readonly picture: FrontPicture | null;
  /** Roles of pictures that are written into its copy; null for all. */
  readonly pictureRoles: readonly PictureRole[] | null;
  readonly durationSeconds: number | null;
  /** Bytes of its sound alone; undefined where that is not known. */
  readonly soundBytes: number | undefined;
  /** Of its copy: tracks may be left out of it. */
  readonly streams: readonly Stream[];
  readonly ownStreams: readonly Stream[];
  readonly tagFormats: readonly string[];
  /** What the bytes of its copy depend on: its original, as it was taken in, and what is written into it. */
  readonly outgoingHash: string;
  readonly beside: readonly string[];
  /** Files that were made from its own, as it is now. */
  readonly twins: readonly PlanTwin[];
  /** Set where it goes out by one of them. */
  readonly by: Carried | null;
}

/** What goes into a copy that is made from a twin, which holds pictures and sound alone, beside what is said of the item. */
export interface Carried {
  readonly twin: Twin;
  /** Pictures of its original, each in its role. */
  readonly pictures: readonly OwnPictureFact[];
}

/** A picture that a file holds, by its place among them. */
export interface OwnPicture {
  readonly index: number;
  readonly role: PictureRole;
}

/** The same, with its bytes and pixels. */
export type OwnPictureFact = OwnPicture & Pick<PictureFact, 'bytes' | 'width' | 'height'>;

/** An item as it goes out by a twin: what is another thing then. */
export interface PlanTwin extends Pick<
  PlanItem,
  | 'size'
  | 'format'
  | 'file'
  | 'outgoing'
  | 'outgoingFields'
  | 'outgoingKind'
  | 'outgoingHash'
  | 'unheld'
  | 'writable'
  | 'locked'
  | 'pictureRoles'
  | 'durationSeconds'
  | 'soundBytes'
  | 'streams'
  | 'tagFormats'
> {
  readonly by: Carried;
}

/** What a format cannot hold of what is said of an item. */
export type Unheld =
  | FieldName
  | 'chapters'
  | 'chapterEnds'
  | 'chapterLinks'
  | 'chapterPictures'
  | 'pictures'
  | 'timed'
  | 'tracks'
  | 'subtitles';

/** An item's edits as its format can write them, and what it cannot hold. */
export interface OutgoingEdits {
  readonly edits: Overlay;
  readonly unheld: readonly Unheld[];
  /** What the copy is told to be, for programs that go by that; null where its tags are left as they are. */
  readonly kind: Kind | null;
  /** Its format has a name for that kind: a copy of another kind has other bytes. */
  readonly isKindNamed: boolean;
  /** Roles of pictures that its format writes; null for all. */
  readonly pictureRoles: readonly PictureRole[] | null;
}

/** What a format is asked about. */
export type OutgoingItem = Pick<Item, 'format' | 'facts' | 'edits' | 'file'>;

/** What a format makes of an item's edits; null where its tags are not written. */
export type OutgoingOf = (item: OutgoingItem, kind: Kind | null) => OutgoingEdits | null;

const NOTHING: OutgoingEdits = { edits: {}, unheld: [], kind: null, isKindNamed: false, pictureRoles: [] };

/** The kind that an item's copy may say that it is of: one that the curator settled, or that stands firm. */
const firmKind = (settled: boolean, certainty: Certainty, kind: Kind | null): Kind | null =>
  settled || certainty === 'sure' || certainty === 'likely' ? kind : null;

export const toldKindOf = (item: Item): Kind | null =>
  firmKind(item.settled !== null, item.guess.certainty, kindOf(item));

/** What the bytes of a copy depend on. */
const hashOf = (
  { id, size, modified }: Pick<Item, 'id' | 'size' | 'modified'>,
  { edits, kind, isKindNamed }: OutgoingEdits,
): string => `${id}|${size}|${modified}|${contentHash(edits)}${isKindNamed ? `|${kind}` : ''}`;

/** An item as it would be planned for if this were said of it. */
export function editedPlanItem(told: PlanItem, edits: Edits, outgoingOf: OutgoingOf): PlanItem {
  const { edits: own } = editItem(told, edits);
  const { durationSeconds, ownStreams, tagFormats, locked, file } = told;
  const facts = { durationSeconds, streams: ownStreams, tagFormats, ...(locked && { locked }) };
  const kind = firmKind(told.settled, told.certainty, told.kind);
  const written = outgoingOf({ format: told.format, facts, edits: own, file }, kind) ?? NOTHING;
  const { edits: outgoing } = written;
  return {
    ...told,
    edits: own,
    fields: fieldsOf({ file, edits: own }),
    outgoing,
    outgoingKind: written.kind,
    outgoingFields: fieldsOf({ file, edits: outgoing }),
    outgoingHash: hashOf(told, written),
    streams: keptStreams(ownStreams, file, outgoing),
    twins: told.twins.map(({ by }) => planTwin({ file, edits: own }, kind, by.twin, outgoingOf)),
  };
}

const NOTHING_SAID: Content = { fields: EMPTY_FIELDS, pictures: [], chapters: [] };

/** All that is said of an item, as if its file said nothing: what is laid into a copy that is made from a twin. */
function allOf(item: Saying): Overlay {
  const said = Object.entries(fieldsOf(item)).filter(([, value]) => value !== null);
  // Pictures that chapters have in the original stay there: they are told by their places among its own.
  const chapters = chaptersOf(item).map(({ picture, ...one }) =>
    picture && 'id' in picture ? { ...one, picture } : one,
  );
  const timed = timedOf(item);
  const { pictures } = item.edits;
  return {
    ...(said.length > 0 && { fields: Object.fromEntries(said) }),
    ...(pictures && { pictures }),
    ...(chapters.length > 0 && { chapters }),
    ...(timed.length > 0 && { timed }),
  };
}

/** What a twin's tags, and its tracks where it has several, make of all that is said of an item. */
function writtenBy(
  item: Saying,
  kind: Kind | null,
  { format, facts, tracks }: Pick<Twin, 'format' | 'facts' | 'tracks'>,
  outgoingOf: OutgoingOf,
): OutgoingEdits {
  const own = item.file.tracks ?? [];
  const said = tracks ? tracksOnTwin(own, item.edits.tracks, tracks) : [];
  const edits = { ...allOf(item), ...(said.length > 0 && { tracks: said }) };
  const written = outgoingOf({ format, facts, edits, file: NOTHING_SAID }, kind) ?? NOTHING;
  const more: Unheld[] = [];
  if (chaptersOf(item).some(({ picture }) => picture && !('id' in picture))) more.push('chapterPictures');
  if (tracks && losesSubtitles(own, item.edits.tracks)) more.push('subtitles');
  return more.length === 0 ? written : { ...written, unheld: [...new Set([...written.unheld, ...more])] };
}

/** What of an item a twin by a recipe could not hold. */
export function unheldBy(item: Item, recipe: TwinRecipe, outgoingOf: OutgoingOf): readonly Unheld[] {
  const { durationSeconds, streams } = item.facts;
  const facts = { durationSeconds, streams, tagFormats: [] };
  const tracks = isVideo(recipe) && item.file.tracks?.filter(({ type }) => type !== 'subtitle');
  const twin = { format: fileOf(recipe).format, facts, ...(tracks && { tracks }) };
  return writtenBy(item, toldKindOf(item), twin, outgoingOf).unheld;
}

/** Pictures of a file that go along, one for each role that nothing was chosen for. */
function carriedPictures(
  { file, edits }: Saying,
  roles: readonly PictureRole[] | null,
): readonly OwnPictureFact[] {
  const taken = new Set(Object.keys(edits.pictures ?? {}));
  return file.pictures.flatMap(({ role, bytes, width, height }, index) => {
    if (taken.has(role) || (roles !== null && !roles.includes(role))) return [];
    taken.add(role);
    return [{ index, role, bytes, width, height }];
  });
}

function planTwin(item: Saying, kind: Kind | null, twin: Twin, outgoingOf: OutgoingOf): PlanTwin {
  const { format, size, facts, tracks } = twin;
  const written = writtenBy(item, kind, twin, outgoingOf);
  const file = tracks ? { ...NOTHING_SAID, tracks } : NOTHING_SAID;
  const pictures = carriedPictures(item, written.pictureRoles);
  const shown = pictures.map(({ index, role }) => `${role}:${item.file.pictures[index]?.hash}`);
  const hash = [twinKey(twin), contentHash(written.edits), ...(written.isKindNamed ? [kind] : []), ...shown];
  return {
    size: size + pictures.reduce((sum, { bytes }) => sum + bytes, 0),
    format,
    file,
    outgoing: written.edits,
    outgoingFields: fieldsOf({ file, edits: written.edits }),
    outgoingKind: written.kind,
    outgoingHash: hash.join('|'),
    unheld: written.unheld,
    writable: true,
    locked: null,
    pictureRoles: written.pictureRoles,
    durationSeconds: facts.durationSeconds,
    soundBytes: facts.soundBytes,
    streams: keptStreams(facts.streams, file, written.edits),
    tagFormats: facts.tagFormats,
    by: { twin, pictures },
  };
}

/** An item once it has these twins. */
export function withTwins(item: PlanItem, twins: readonly Twin[], outgoingOf: OutgoingOf): PlanItem {
  const kind = firmKind(item.settled, item.certainty, item.kind);
  return {
    ...item,
    twins: twins.flatMap((twin) => (isFresh(twin, item) ? planTwin(item, kind, twin, outgoingOf) : [])),
  };
}

/** @param twins files that were made from its own; what was made from an earlier one of it is left aside */
export function toPlanItem(item: Item, outgoingOf: OutgoingOf, twins: readonly Twin[] = []): PlanItem {
  const written = outgoingOf(item, toldKindOf(item));
  const { edits: outgoing, unheld, kind: outgoingKind } = written ?? NOTHING;
  const fields = fieldsOf(item);
  const edited = item.edits.fields;
  return {
    id: item.id,
    arrival: item.arrival,
    source: item.source,
    isGone: item.gone !== null,
    path: item.path,
    size: item.size,
    modified: item.modified,
    format: item.format,
    kind: kindOf(item),
    settled: item.settled !== null,
    certainty: item.guess.certainty,
    nextKind: item.guess.next,
    fields,
    outgoingFields: outgoing.fields === edited ? fields : fieldsOf({ file: item.file, edits: outgoing }),
    file: item.file,
    edits: item.edits,
    outgoing,
    outgoingKind,
    unheld,
    writable: written !== null,
    locked: item.facts.locked ?? null,
    picture: frontPicture(item),
    pictureRoles: (written ?? NOTHING).pictureRoles,
    durationSeconds: item.facts.durationSeconds,
    soundBytes: item.facts.soundBytes,
    streams: keptStreams(item.facts.streams, item.file, outgoing),
    ownStreams: item.facts.streams,
    tagFormats: item.facts.tagFormats,
    outgoingHash: hashOf(item, written ?? NOTHING),
    beside: item.beside,
    twins: twins.flatMap((twin) =>
      isFresh(twin, item) ? planTwin(item, toldKindOf(item), twin, outgoingOf) : [],
    ),
    by: null,
  };
}
