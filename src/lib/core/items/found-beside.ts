import { editContent, withoutParts } from './content';
import { sameValue } from './field-types';
import type { FieldName } from './fields';
import type { Item } from './item';
import { PARTS, chaptersOf, fieldOf, timedOf, tracksOf } from './parts';
import type { PictureRole } from './pictures';
import type { FoundBeside, Overlay, PartEdits, PartName, PutBack, Saying } from './saying';

/** The item with a file found beside it. Its own tags and edits lead: only what it lacks becomes an edit. */
export function withFound(item: Item, found: FoundBeside): Item {
  const others = (item.foundBeside ?? []).filter(({ path }) => path !== found.path);
  const edited = found.isIgnored ? item : editContent(item, lackedBy(item, found.says));
  return { ...edited, foundBeside: [...others, found] };
}

/** The item with everything that the file at this path says, also where the item's own tags differ. */
export function usingFound(item: Item, path: string): Item {
  const found = item.foundBeside?.find((one) => one.path === path);
  if (!found) return item;
  const used = { path, says: found.says };
  return { ...editContent(item, found.says), foundBeside: exchanged(item, used) };
}

/** The item without what the file at this path gave it. Values that were edited since stay. */
export function ignoringFound(item: Item, path: string): Item {
  const found = item.foundBeside?.find((one) => one.path === path);
  if (!found) return item;
  const edits = withoutParts(item.edits, inForce(item, found.says));
  return { ...item, edits, foundBeside: exchanged(item, { ...found, isIgnored: true }) };
}

const exchanged = (item: Item, found: FoundBeside): readonly FoundBeside[] =>
  (item.foundBeside ?? []).map((one) => (one.path === found.path ? found : one));

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
    ...(isSame('tracks', edits, says) && { tracks: true }),
  };
}

/** The part of an overlay that an item has no value for, in its file or by an edit. */
function lackedBy(item: Item, says: Overlay): Overlay {
  const fields = namesOf(says.fields).filter((name) => fieldOf(item, name) === null);
  const own = new Set(item.file.pictures.map(({ role }) => role));
  const pictures = rolesOf(says.pictures).filter((role) => !own.has(role) && !item.edits.pictures?.[role]);
  const hasSubtitles = tracksOf(item).some(({ type }) => type === 'subtitle');
  return {
    ...(fields.length > 0 && { fields: picked(says.fields ?? {}, fields) }),
    ...(pictures.length > 0 && { pictures: picked(says.pictures ?? {}, pictures) }),
    ...(says.chapters && chaptersOf(item).length === 0 && { chapters: says.chapters }),
    ...(says.timed && timedOf(item).length === 0 && { timed: says.timed }),
    ...(says.tracks && !item.edits.tracks && !hasSubtitles && { tracks: says.tracks }),
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
