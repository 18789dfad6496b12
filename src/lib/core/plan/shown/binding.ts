import { FIELD_NAMES, releaseKey, valueKey, yearOf, type FieldName, type Fields } from '../../items';
import type { Kind } from '../../kinds';
import { requirePattern, type PatternNode } from '../../naming';
import type { GroupPart, Place, Rulebook } from '../../rulebooks';
import { groupKey } from './showing';

/** How a place groups the items of one release or show on one shelf. */
export interface Binding {
  /** The field that names the group. */
  readonly by: 'album' | 'show';
  /** Fields whose values have to match, as the place reads them from tags or uses them in folder names. */
  readonly fields: readonly FieldName[];
  /** Levels that form shelves of their own: seasons are below their show. */
  readonly groups: Place['groups'];
  /** Shelves follow from the folders of the files rather than from their tags alone. */
  readonly byFolders: boolean;
}

/** Kinds that belong to a larger whole, by the field that names it. Films and videos stand alone. */
const WHOLES: Readonly<Partial<Record<Kind, Binding['by']>>> = {
  song: 'album',
  audiobook: 'album',
  podcast: 'show',
  episode: 'show',
};

/** The fields that each part of a player's grouping is read from. */
const PART_FIELDS: Readonly<Record<GroupPart, readonly FieldName[]>> = {
  album: ['album'],
  maker: ['albumArtist', 'compilation'],
  year: ['date'],
  show: ['show'],
  season: [],
  folder1: [],
  folder2: [],
};

const known = new WeakMap<Place, ReadonlyMap<Kind, Binding | null>>();

/** Null for items that the place shows on their own. */
export function bindingOf(place: Place, kind: Kind): Binding | null {
  let own = known.get(place);
  if (!own) {
    own = new Map(place.kinds.map((one) => [one, bindingFor(place, one)]));
    known.set(place, own);
  }
  return own.get(kind) ?? null;
}

/** The kinds that a player groups on shelves. Items of other kinds are shown on their own. */
export const shelvedKinds = ({ places }: Rulebook): ReadonlySet<Kind> =>
  new Set(places.flatMap((place) => place.kinds.filter((kind) => bindingOf(place, kind) !== null)));

function bindingFor(place: Place, kind: Kind): Binding | null {
  const by = WHOLES[kind];
  if (!by) return null;
  const outer = place.groups.findIndex((level) => level.includes('season'));
  const groups = outer < 0 ? place.groups : place.groups.slice(0, outer);
  const parts = groups.flat();
  const byFolders = parts.includes('folder1') || parts.includes('folder2');
  if (!parts.includes(by) && !byFolders) return null;
  const levels = levelsOf(requirePattern(place.pattern));
  const fields = parts.flatMap((part) => {
    if (part === 'folder1') return levels[0] ?? [];
    return part === 'folder2' ? (levels[1] ?? []) : PART_FIELDS[part];
  });
  // A compilation has one folder, whoever made its songs.
  if (fields.includes('albumArtist')) fields.push('compilation');
  return { by, fields: [...new Set(fields)], groups, byFolders };
}

/** The fields that name each folder of a pattern: the first of several alternatives. */
function levelsOf(pattern: readonly PatternNode[]): FieldName[][] {
  const levels: FieldName[][] = [[]];
  const take = (nodes: readonly PatternNode[]) => {
    for (const node of nodes) {
      if (node.type === 'folder') levels.push([]);
      else if (node.type === 'optional') take(node.nodes);
      else if (node.type === 'field') {
        const name = node.names.map((one) => (one === 'year' ? 'date' : one)).find(isField);
        if (name) levels.at(-1)?.push(name);
      }
    }
  };
  take(pattern);
  return levels.slice(0, -1);
}

const isField = (name: string): name is FieldName => FIELD_NAMES.some((field) => field === name);

/** Equal for items that belong together; null if the item does not say. */
export function wholeOf({ by }: Binding, path: string, fields: Fields): string | null {
  if (by === 'album') return releaseKey(path, fields);
  // Episodes lie in many folders, so a show is identified by its name, regardless of spelling.
  return fields.show === null ? null : looselySpelled(fields.show);
}

/**
 * Text without the differences between spellings of one name: case, accents, spaces, punctuation and a leading article.
 */
const looselySpelled = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/&/g, 'and')
    .replace(/^(the|an?)\s+/, '')
    .replace(/[^\p{L}\p{N}]+/gu, '');

/** Equal for items that the player shows on one shelf. */
export const shelfOf = (
  { groups }: Binding,
  kind: Kind,
  fields: Fields,
  place: Place,
  path: string,
): string => groupKey(kind, fields, { ...place, groups }, path);

/** Whether two values of a field put items together: players group by the year alone. */
export function joins(field: FieldName, own: Partial<Fields>, usual: Partial<Fields>): boolean {
  if (field === 'date') return yearOf(own as Fields) === yearOf(usual as Fields);
  return valueKey(own[field] ?? null) === valueKey(usual[field] ?? null);
}
