import {
  PART_NAMES,
  TRACK_FLAGS,
  pictureKey,
  type Chapter,
  type Content,
  type Facts,
  type FieldName,
  type Item,
  type Overlay,
  type PartEdits,
  type PartName,
  type PictureId,
  type PictureRole,
  type TrackEdit,
  type TrackFlag,
} from '$lib/core/items';
import type { Kind } from '$lib/core/kinds';
import type { OutgoingEdits, OutgoingItem, Unheld } from '$lib/core/plan';
import { holdsValue, type ChapterLimits, type TagMap } from './tag-map';
import { WRITABLE } from './writable';

/** What the tags of an item's copy can hold; null where they are not written at all. */
export function tagMapOf({ format, facts }: Pick<Item, 'format' | 'facts'>): TagMap | null {
  return facts.locked ? null : (WRITABLE.get(format)?.mapFor(facts.tagFormats) ?? null);
}

const places = new WeakMap<TagMap, ReadonlySet<FieldName>>();

const NO_PLACES: ReadonlySet<FieldName> = new Set();

/** Whether a field has a place in the tags of an item's copy, whatever its value. */
export const hasPlace = (item: Pick<Item, 'format' | 'facts'>, field: FieldName): boolean =>
  placesOf(item).has(field);

/** The fields that have a place in the tags of an item's copy. */
export function placesOf(item: Pick<Item, 'format' | 'facts'>): ReadonlySet<FieldName> {
  const map = tagMapOf(item);
  if (!map) return NO_PLACES;
  let fields = places.get(map);
  if (!fields)
    places.set(map, (fields = new Set(map.rows.flatMap((row) => [row.field, row.of ?? []].flat()))));
  return fields;
}

/**
 * What of an item's edits can be written into its copy, and what its tags cannot hold or would not be read as it was
 * meant. @param kind what the copy is told to be. Null where its tags are not written at all.
 */
export function outgoingOf(item: OutgoingItem, kind: Kind | null): OutgoingEdits | null {
  const { facts, edits } = item;
  const map = tagMapOf(item);
  if (!map) return null;
  for (const _ in edits) return withKind(item.file, kind, split(edits, facts, map), map);
  return { edits, unheld: [], kind: null, isKindNamed: false, pictureRoles: map.pictures };
}

type HeldEdits = Pick<OutgoingEdits, 'edits' | 'unheld'>;

/**
 * What will be written says what kind it is, too. Programs look for a podcast's show under its album, so that it goes there
 * where nothing else stands. A file that is not written for something else is left as it is.
 */
function withKind(
  { fields }: Content,
  kind: Kind | null,
  { edits, unheld }: HeldEdits,
  map: TagMap,
): OutgoingEdits {
  if (Object.keys(edits).length === 0 || kind === null)
    return { edits, unheld, kind: null, isKindNamed: false, pictureRoles: map.pictures };
  const { show, album } = { ...fields, ...edits.fields };
  const isBare = kind === 'podcast' && show !== null && album === null;
  return {
    edits: isBare ? { ...edits, fields: { ...edits.fields, album: show } } : edits,
    unheld,
    kind,
    isKindNamed: map.kinds.includes(kind),
    pictureRoles: map.pictures,
  };
}

/** What of a part a format holds; what it does not hold is added to what is left out. */
type Holds<P extends PartName> = (
  edit: PartEdits[P],
  map: TagMap,
  unheld: Unheld[],
  facts: Facts,
) => PartEdits[P] | undefined;

const HOLDS: { readonly [P in PartName]: Holds<P> } = {
  fields: (fields, map, unheld) =>
    heldOf(fields, (name) => {
      if (holdsValue(map, name as FieldName, fields[name as FieldName] ?? null)) return true;
      unheld.push(name as FieldName);
      return false;
    }),
  pictures: (pictures, map, unheld) =>
    heldOf(pictures, (role) => {
      if (!map.pictures || map.pictures.some((one) => one === role)) return true;
      // Pictures behind the front one are of no stated role there.
      const isRemoved = pictures[role as PictureRole] === null;
      if (isRemoved && role === 'other' && map.pictures.length > 0) return true;
      unheld.push('pictures');
      return false;
    }),
  chapters: (chapters, map, unheld, facts) => heldChapters(chapters, facts, map.chapters, unheld),
  timed: (lines, map, unheld) => {
    if (map.timed || lines.length === 0) return lines;
    unheld.push('timed');
    return undefined;
  },
  tracks: (tracks, map, unheld) => {
    const { tracks: held } = map;
    const unsaid = held ? TRACK_FLAGS.filter((flag) => !held.includes(flag)) : [];
    const isHeld = tracks.every((track) => unsaid.every((flag) => !track[flag]));
    if (!held || !isHeld) unheld.push('tracks');
    if (!held) return undefined;
    return unsaid.length === 0 ? tracks : tracks.map((track) => withoutFlags(track, unsaid));
  },
};

/** The very edit where it says none of them. */
function withoutFlags(edit: TrackEdit, flags: readonly TrackFlag[]): TrackEdit {
  if (!flags.some((flag) => flag in edit)) return edit;
  const rest = Object.entries(edit).filter(([name]) => !flags.includes(name as TrackFlag));
  return { ...Object.fromEntries(rest), id: edit.id };
}

function heldOf<T extends object>(part: T, keeps: (name: string) => boolean): T | undefined {
  const all = Object.entries(part);
  const entries = all.filter(([name]) => keeps(name));
  if (entries.length === 0) return undefined;
  // Itself where all of it is held: who compares them sees at once that they are the same.
  return entries.length === all.length ? part : (Object.fromEntries(entries) as T);
}

function split(edits: Overlay, facts: Facts, map: TagMap): HeldEdits {
  const unheld: Unheld[] = [];
  const held: { -readonly [P in PartName]?: PartEdits[P] } = {};
  const hold = <P extends PartName>(name: P) => {
    const edit: PartEdits[P] | undefined = edits[name];
    const part = edit && HOLDS[name](edit, map, unheld, facts);
    if (part !== undefined) held[name] = part;
  };
  PART_NAMES.forEach(hold);
  return { edits: held, unheld: [...new Set(unheld)] };
}

/** Where a format says ends, the last chapter's is that of the file; the others end where the next begins. */
function withLastEnd(chapters: readonly Chapter[], { durationSeconds }: Facts): readonly Chapter[] {
  const last = chapters.at(-1);
  if (!last || last.endSeconds !== null || durationSeconds === null || durationSeconds <= last.startSeconds)
    return chapters;
  return [...chapters.slice(0, -1), { ...last, endSeconds: durationSeconds }];
}

/** Bytes of all pictures that chapters say to have. One that several have counts once. */
export function pictureBytes(chapters: readonly Chapter[]): number {
  const distinct = new Map<PictureId | number, number>();
  for (const { picture } of chapters) if (picture) distinct.set(pictureKey(picture), picture.bytes);
  let sum = 0;
  for (const bytes of distinct.values()) sum += bytes;
  return sum;
}

/** Chapters as far as the format holds them; all or none, but for ends and links of their own. */
function heldChapters(
  chapters: readonly Chapter[],
  facts: Facts,
  limits: ChapterLimits | null,
  unheld: Unheld[],
): readonly Chapter[] | undefined {
  if (chapters.length === 0) return chapters;
  const fits =
    limits !== null &&
    chapters.length <= limits.most &&
    chapters.every(({ title }) => new TextEncoder().encode(title).length <= limits.titleBytes);
  if (!fits) {
    unheld.push('chapters');
    return undefined;
  }
  const ends = limits.ends || chapters.every(({ endSeconds }) => endSeconds === null);
  const links = limits.links || chapters.every(({ link }) => link === null);
  if (!ends) unheld.push('chapterEnds');
  const pictures = pictureBytes(chapters) <= limits.pictureBytes;
  if (!links) unheld.push('chapterLinks');
  if (!pictures) unheld.push('chapterPictures');
  const held = chapters.map(({ picture, ...one }) => ({
    ...one,
    ...(pictures && picture !== undefined && { picture }),
    ...(!ends && { endSeconds: null }),
    ...(!links && { link: null }),
  }));
  return limits.ends ? withLastEnd(held, facts) : held;
}
