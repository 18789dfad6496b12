import { editContent, withoutParts } from './content';
import { sameValue } from './field-types';
import type { FieldName } from './fields';
import type { Item } from './item';
import type { Cue } from './cues';
import { PARTS, allTracksOf, chaptersOf, fieldOf, timedOf } from './parts';
import type { PictureRole } from './pictures';
import type { FoundBeside, Overlay, PartEdits, PartName, PutBack, Saying } from './saying';

/**
 * The item with a file found beside it. Its own tags and edits lead: only what it lacks becomes an edit. A file that was
 * found before is replaced, with what it gave; one that is ignored stays ignored.
 */
export function withFound(item: Item, found: FoundBeside): Item {
  const before = item.foundBeside?.find(({ path }) => path === found.path);
  const others = (item.foundBeside ?? []).filter((one) => one !== before);
  const free = before ? { ...item, edits: withoutGiven(item, before.says) } : item;
  if (before?.isIgnored) return { ...free, foundBeside: [...others, { ...found, isIgnored: true }] };
  return { ...editContent(free, lackedBy(free, found.says)), foundBeside: [...others, found] };
}

/** The item with everything that the file at this path says, also where the item's own tags differ. */
export function usingFound(item: Item, path: string): Item {
  const found = item.foundBeside?.find((one) => one.path === path);
  if (!found) return item;
  const { isIgnored: _, ...used } = found;
  return { ...editContent(item, found.says), foundBeside: exchanged(item, used) };
}

/** The item without what the file at this path gave it. Values that were edited since stay. */
export function ignoringFound(item: Item, path: string): Item {
  const found = item.foundBeside?.find((one) => one.path === path);
  if (!found) return item;
  const edits = withoutGiven(item, found.says);
  return { ...item, edits, foundBeside: exchanged(item, { ...found, isIgnored: true }) };
}

const exchanged = (item: Item, found: FoundBeside): readonly FoundBeside[] =>
  (item.foundBeside ?? []).map((one) => (one.path === found.path ? found : one));

/** The edits of an item without those that a file gave it. Of tracks only its own go, since others can have been edited. */
function withoutGiven(item: Item, says: Overlay): Overlay {
  const { tracks, ...given } = inForce(item, says);
  const rest = withoutParts(item.edits, given);
  if (!tracks) return rest;
  const own = new Set(says.tracks?.map(({ id }) => id));
  const left = (rest.tracks ?? []).filter(({ id }) => !own.has(id));
  return left.length > 0 ? { ...rest, tracks: left } : withoutParts(rest, { tracks: true });
}

/** The parts of what a file says that are edits of the item now. */
export function inForce({ edits }: Pick<Saying, 'edits'>, says: Overlay): PutBack {
  const fields = namesOf(says.fields).filter((name) => {
    const own = edits.fields?.[name];
    return own !== undefined && sameValue(own, says.fields?.[name] ?? null);
  });
  const pictures = rolesOf(says.pictures).filter(
    (role) => edits.pictures?.[role]?.id === says.pictures?.[role]?.id,
  );
  return {
    ...(fields.length > 0 && { fields }),
    ...(pictures.length > 0 && { pictures }),
    ...(isSame('chapters', edits, says) && { chapters: true }),
    ...(isSame('timed', edits, says) && { timed: true }),
    ...(hasTracks(edits, says) && { tracks: true }),
  };
}

/** Whether all subtitles that a file says are among the tracks of an item. */
const hasTracks = (edits: Overlay, { tracks = [] }: Overlay): boolean =>
  tracks.length > 0 &&
  tracks.every(({ id, added }) => edits.tracks?.some((own) => own.id === id && sameCues(own.added, added)));

const sameCues = (a: readonly Cue[] = [], b: readonly Cue[] = []): boolean =>
  a.length === b.length &&
  a.every((cue, at) => cue.startSeconds === b[at]?.startSeconds && cue.text === b[at]?.text);

/** The part of an overlay that an item has no value for, in its file or by an edit. */
function lackedBy(item: Item, says: Overlay): Overlay {
  const fields = namesOf(says.fields).filter((name) => fieldOf(item, name) === null);
  const own = new Set(item.file.pictures.map(({ role }) => role));
  const pictures = rolesOf(says.pictures).filter(
    (role) => !own.has(role) && item.edits.pictures?.[role] === undefined,
  );
  const spoken = new Set(
    allTracksOf(item).flatMap(({ type, language }) => (type === 'subtitle' ? language : [])),
  );
  const isNew = says.tracks?.every(({ language = null }) => !spoken.has(language)) ?? false;
  return {
    ...(fields.length > 0 && { fields: picked(says.fields ?? {}, fields) }),
    ...(pictures.length > 0 && { pictures: picked(says.pictures ?? {}, pictures) }),
    ...(says.chapters && chaptersOf(item).length === 0 && { chapters: says.chapters }),
    ...(says.timed && timedOf(item).length === 0 && { timed: says.timed }),
    ...(isNew && { tracks: says.tracks }),
  };
}

function isSame<P extends PartName>(name: P, one: Overlay, other: Overlay): boolean {
  const [a, b]: (PartEdits[P] | undefined)[] = [one[name], other[name]];
  return a !== undefined && b !== undefined && PARTS[name].same(a, b);
}

const namesOf = (fields: Overlay['fields'] = {}) => Object.keys(fields) as FieldName[];
const rolesOf = (pictures: Overlay['pictures'] = {}) => Object.keys(pictures) as PictureRole[];
const picked = <T extends object, K extends keyof T>(from: T, names: readonly K[]): Pick<T, K> =>
  Object.fromEntries(names.map((name) => [name, from[name]])) as Pick<T, K>;
