import {
  chaptersOf,
  contentHash,
  editItem,
  EMPTY_FIELDS,
  fieldsOf,
  frontPicture,
  makerPicture,
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

/** What planning needs of an item, small enough to send a hundred thousand of them to a worker. */
export interface PlanItem {
  readonly id: ItemId;
  readonly arrival: ArrivalId;
  readonly source: SourceId;
  /** Its file is no longer in its folder. */
  readonly isGone: boolean;
  readonly path: string;
  readonly size: number;
  /** Milliseconds since 1970. */
  readonly modified: number;
  readonly format: FormatId;
  readonly kind: Kind | null;
  readonly settled: boolean;
  readonly certainty: Certainty;
  readonly fields: Fields;
  /** The fields of its copy: its format decides which edits can be written. */
  readonly outgoingFields: Fields;
  readonly file: Content;
  readonly edits: Overlay;
  /** The edits that are written into its copy. */
  readonly outgoing: Overlay;
  /** The kind that the copy's tags state; null if they are left as they are. */
  readonly outgoingKind: Kind | null;
  /** Edits that its format cannot store. */
  readonly unheld: readonly Unheld[];
  /** Its tags can be written: its format allows it, and nothing in the file prevents it. */
  readonly writable: boolean;
  /** What prevents it; null if nothing does. */
  readonly locked: NonNullable<Item['facts']['locked']> | null;
  readonly picture: FrontPicture | null;
  /** The picture of its maker. */
  readonly makerPicture: FrontPicture | null;
  /** Roles of pictures that are written into its copy; null for all. */
  readonly pictureRoles: readonly PictureRole[] | null;
  readonly durationSeconds: number | null;
  /** Bytes of its audio alone; undefined if unknown. */
  readonly soundBytes: number | undefined;
  /** The streams of its copy: tracks may be left out of it. */
  readonly streams: readonly Stream[];
  readonly ownStreams: readonly Stream[];
  readonly tagFormats: readonly string[];
  /** Everything that the bytes of its copy depend on: the original as it was taken in, and what is written into it. */
  readonly outgoingHash: string;
  readonly beside: readonly string[];
  /** Files that were converted from its present original. */
  readonly twins: readonly PlanTwin[];
  /** The twin that it goes out as, if it does. */
  readonly by: Carried | null;
}

/**
 * What a copy made from a twin contains in addition to the item's description, because a twin holds only video and
 * audio.
 */
export interface Carried {
  readonly twin: Twin;
  /** Pictures of the original, each in its role. */
  readonly pictures: readonly OwnPictureFact[];
}

/** A picture in a file, by its position. */
export interface OwnPicture {
  readonly index: number;
  readonly role: PictureRole;
}

/** The same, with its size in bytes and pixels. */
export type OwnPictureFact = OwnPicture & Pick<PictureFact, 'bytes' | 'width' | 'height'>;

/** A twin in an item's place: the properties that differ. */
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

/** A part of an item's description that a format cannot store. */
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

/** The edits of an item that its format can write, and those that it cannot store. */
export interface OutgoingEdits {
  readonly edits: Overlay;
  readonly unheld: readonly Unheld[];
  /** The kind that the copy's tags state, for programs that use it; null if the tags are left as they are. */
  readonly kind: Kind | null;
  /** The format has a name for that kind, so that a copy of another kind has other bytes. */
  readonly isKindNamed: boolean;
  /** Roles of pictures that the format writes; null for all. */
  readonly pictureRoles: readonly PictureRole[] | null;
}

/** The parts of an item that a format is asked about. */
export type OutgoingItem = Pick<Item, 'format' | 'facts' | 'edits' | 'file'>;

/** Tells what a format can write of an item's edits; null if its tags are not written. */
export type OutgoingOf = (item: OutgoingItem, kind: Kind | null) => OutgoingEdits | null;

const NOTHING: OutgoingEdits = { edits: {}, unheld: [], kind: null, isKindNamed: false, pictureRoles: [] };

/** The kind that an item's copy may state: one that the curator set, or that is certain. */
const firmKind = (settled: boolean, certainty: Certainty, kind: Kind | null): Kind | null =>
  settled || certainty === 'sure' || certainty === 'likely' ? kind : null;

export const toldKindOf = (item: Item): Kind | null =>
  firmKind(item.settled !== null, item.guess.certainty, kindOf(item));

/** A hash of everything that the bytes of a copy depend on. */
const hashOf = (
  { id, size, modified }: Pick<Item, 'id' | 'size' | 'modified'>,
  { edits, kind, isKindNamed }: OutgoingEdits,
): string => `${id}|${size}|${modified}|${contentHash(edits)}${isKindNamed ? `|${kind}` : ''}`;

/** The item as it would be planned with these edits. */
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

/** The whole description of an item, as if its file had none: it is written into a copy made from a twin. */
function allOf(item: Saying): Overlay {
  const said = Object.entries(fieldsOf(item)).filter(([, value]) => value !== null);
  // Pictures of chapters stay in the original, because they are identified by their position there.
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

/** What a twin's format can write of the item's description, and of its tracks if it has several. */
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

/** The parts of an item's description that a twin by a recipe could not store. */
export function unheldBy(item: Item, recipe: TwinRecipe, outgoingOf: OutgoingOf): readonly Unheld[] {
  const { durationSeconds, streams } = item.facts;
  const facts = { durationSeconds, streams, tagFormats: [] };
  const tracks = isVideo(recipe) && item.file.tracks?.filter(({ type }) => type !== 'subtitle');
  const twin = { format: fileOf(recipe).format, facts, ...(tracks && { tracks }) };
  return writtenBy(item, toldKindOf(item), twin, outgoingOf).unheld;
}

/** Pictures of a file that are copied along: one for each role without a chosen picture. */
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

/** The item with these twins. */
export function withTwins(item: PlanItem, twins: readonly Twin[], outgoingOf: OutgoingOf): PlanItem {
  const kind = firmKind(item.settled, item.certainty, item.kind);
  return {
    ...item,
    twins: twins.flatMap((twin) => (isFresh(twin, item) ? planTwin(item, kind, twin, outgoingOf) : [])),
  };
}

/** @param twins files converted from its original; those from an earlier version of it are ignored */
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
    makerPicture: makerPicture(item),
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
