import { FIELD_NAMES, releaseKey, valueKey, yearOf, type FieldName, type Fields } from '../../items';
import type { Kind } from '../../kinds';
import { requirePattern, type PatternNode } from '../../naming';
import type { GroupPart, Place, Rulebook } from '../../rulebooks';
import { groupKey } from './showing';

/** How a place puts items of one release, or of one show, on one shelf. */
export interface Binding {
  /** The field that names what belongs together. */
  readonly by: 'album' | 'show';
  /** Fields that must agree for that, as the place reads them from tags or makes folders of them. */
  readonly fields: readonly FieldName[];
  /** Levels that count: seasons stand apart, below their show. */
  readonly groups: Place['groups'];
  /** Shelves follow from the folders that items go to, and not from what they say alone. */
  readonly byFolders: boolean;
}

/** Kinds that come as parts of a whole, by what names that. Films and videos stand for themselves. */
const WHOLES: Readonly<Partial<Record<Kind, Binding['by']>>> = {
  song: 'album',
  audiobook: 'album',
  podcast: 'show',
  episode: 'show',
};

/** Fields that each part of a player's grouping is read from. */
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

/** Null for what stands for itself there. */
export function bindingOf(place: Place, kind: Kind): Binding | null {
  let own = known.get(place);
  if (!own) {
    own = new Map(place.kinds.map((one) => [one, bindingFor(place, one)]));
    known.set(place, own);
  }
  return own.get(kind) ?? null;
}

/** Kinds that a player puts on shelves of several: all others stand for themselves there. */
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
  // A compilation lies in one folder, whoever made its songs.
  if (fields.includes('albumArtist')) fields.push('compilation');
  return { by, fields: [...new Set(fields)], groups, byFolders };
}

/** The fields that each folder of a pattern is named by: of several that stand in for each other, the first. */
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

/** Equal for items that ought to stand together; null for what says nothing of it. */
export function wholeOf({ by }: Binding, path: string, fields: Fields): string | null {
  if (by === 'album') return releaseKey(path, fields);
  // A show is told by its name, however that is spelled: its episodes lie in many folders.
  return fields.show === null ? null : looselySpelled(fields.show);
}

/** Without what two spellings of one name differ in: letter case, accents, blanks, marks and an article before it. */
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

/** Whether a value of a field joins as well as another one: players group by the year alone. */
export function joins(field: FieldName, own: Partial<Fields>, usual: Partial<Fields>): boolean {
  if (field === 'date') return yearOf(own as Fields) === yearOf(usual as Fields);
  return valueKey(own[field] ?? null) === valueKey(usual[field] ?? null);
}
