import type { ItemId } from '../items';
import { nameOf, stemOf } from '../paths';
import { folded, type Asked } from '../query';
import type { ListEntry, OpenSaid } from '../lists';

/** By what an entry of a file was found. */
export type FoundBy = 'path' | 'ending' | 'name' | 'words' | 'folder';

export interface Resolved {
  /** One entry; for a line that is a folder, its content as one suite. */
  readonly entries: readonly ListEntry[];
  /** Of a folder, its name. */
  readonly name: string | null;
  /** Null if it was not found. */
  readonly by: FoundBy | null;
}

/** Seconds by which lengths of one recording may differ: lists round, and players reckon. */
const SAME_LENGTH = 3;

/** What an item is found by. */
export interface Findable extends Pick<Asked, 'id' | 'path' | 'fields' | 'durationSeconds'> {
  readonly isGone: boolean;
}

interface Known {
  readonly id: ItemId;
  /** Parts of its path from its end on, folded. */
  readonly parts: readonly string[];
  readonly seconds: number | null;
}

/**
 * Finds the items that entries of a list file refer to: by path relative to the list, by the longest common end of the
 * path, then by name and length, then by artist and title. Case and Unicode forms are ignored. An entry that is not
 * found stays open, with all that the file says.
 */
export class EntryIndex {
  private readonly byPath = new Map<string, ItemId>();
  /** By path; put in order when a folder is first asked for. */
  private ordered: (readonly [path: string, item: ItemId])[] | null = null;
  private readonly byName = new Map<string, Known[]>();
  private readonly byStem = new Map<string, Known[]>();
  private readonly byWords = new Map<string, Known[]>();

  constructor(items: Iterable<Findable>) {
    for (const item of items) {
      if (item.isGone) continue;
      const path = keyOf(item.path);
      const known = { id: item.id, parts: path.split('/').reverse(), seconds: item.durationSeconds };
      if (!this.byPath.has(path)) this.byPath.set(path, item.id);
      put(this.byName, nameOf(path), known);
      put(this.byStem, stemOf(path), known);
      const { title, artist } = item.fields;
      if (title === null) continue;
      for (const one of artist ?? []) put(this.byWords, wordsKey(one, title), known);
    }
  }

  /** @param at the folder of the list below the root of a source; empty for the root */
  resolve(entries: readonly OpenSaid[], at = ''): readonly Resolved[] {
    return entries.map((said): Resolved => {
      const found = this.find(said, at);
      if (found) return { entries: [{ item: found.item }], name: null, by: found.by };
      return this.folderAt(said, at) ?? { entries: [{ open: said }], name: null, by: null };
    });
  }

  /** The content of a folder that a line names, with subfolders, in the order of paths; null if it is not a folder. */
  private folderAt({ path: written }: OpenSaid, at: string): Resolved | null {
    for (const path of readingsOf(written))
      for (const folder of [joined(at, path), joined('', path)]) {
        const inside = folder === '' ? null : this.below(`${keyOf(folder)}/`);
        if (inside) return { entries: inside.map((item) => ({ item })), name: nameOf(folder), by: 'folder' };
      }
    return null;
  }

  /** Items whose paths begin with a folder's, found by halving; null for none. */
  private below(prefix: string): readonly ItemId[] | null {
    this.ordered ??= [...this.byPath].sort(([a], [b]) => (a < b ? -1 : 1));
    const { ordered } = this;
    let [low, high] = [0, ordered.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((ordered[middle] as readonly [string, ItemId])[0] < prefix) low = middle + 1;
      else high = middle;
    }
    const items: ItemId[] = [];
    for (let next = ordered[low]; next?.[0].startsWith(prefix); next = ordered[++low]) items.push(next[1]);
    return items.length === 0 ? null : items;
  }

  private find(said: OpenSaid, at: string): { readonly item: ItemId; readonly by: FoundBy } | null {
    const paths = readingsOf(said.path);
    for (const path of paths) {
      const exact = this.byPath.get(keyOf(joined(at, path))) ?? this.byPath.get(keyOf(joined('', path)));
      if (exact) return { item: exact, by: 'path' };
    }
    for (const path of paths) {
      const parts = keyOf(joined('', path)).split('/').reverse();
      const alike = this.byName.get(parts[0] ?? '') ?? [];
      const byEnding = longestEnd(alike, parts);
      if (byEnding) return { item: byEnding.id, by: 'ending' };
      // The same recording may have come in another format.
      const named = alike.length > 0 ? alike : (this.byStem.get(stemOf(parts[0] ?? '')) ?? []);
      const byName = byLength(named, said.seconds);
      if (byName) return { item: byName.id, by: 'name' };
    }
    if (said.artist === null || said.title === null) return null;
    const byWords = byLength(this.byWords.get(wordsKey(said.artist, said.title)) ?? [], said.seconds);
    return byWords ? { item: byWords.id, by: 'words' } : null;
  }
}

function put(map: Map<string, Known[]>, key: string, known: Known): void {
  const own = map.get(key);
  if (own) own.push(known);
  else map.set(key, [known]);
}

const keyOf = (path: string): string => path.normalize('NFC').toLowerCase();
const wordsKey = (artist: string, title: string): string => `${folded(artist)}\n${folded(title)}`;

/** The one whose path has the most folders in common from its end on; at least one, and more than any other has. */
function longestEnd(alike: readonly Known[], parts: readonly string[]): Known | null {
  let best: Known | null = null;
  let most = 1;
  let isAlone = false;
  for (const known of alike) {
    let common = 0;
    while (common < parts.length && common < known.parts.length && known.parts[common] === parts[common])
      common++;
    if (common > most) {
      best = known;
      most = common;
      isAlone = true;
    } else if (common === most) isAlone = false;
  }
  return isAlone ? best : null;
}

/** The only one of this length; the only one at all if the file gives no length. */
function byLength(alike: readonly Known[], seconds: number | null): Known | null {
  const fitting = alike.filter(
    (known) => seconds === null || known.seconds === null || Math.abs(known.seconds - seconds) <= SAME_LENGTH,
  );
  return fitting.length === 1 ? (fitting[0] ?? null) : null;
}

/** The possible meanings of a path, whatever system wrote it: as written, and decoded as an address. */
function readingsOf(written: string): readonly string[] {
  const [, address] = /^[a-z][a-z\d+.-]+:\/\/[^/]*(\/.*)?$/i.exec(written) ?? [];
  const isAddress = /^[a-z][a-z\d+.-]+:\/\//i.test(written);
  const path = isAddress ? (address ?? '').replace(/[?#].*$/, '') : written;
  // Systems with drives part folders by the other sign.
  const hasDrive = /^\/?[a-z]:[\\/]/i.test(path);
  const own =
    hasDrive || (path.includes('\\') && !path.includes('/'))
      ? path.replace(/^\/?[a-z]:/i, '').replaceAll('\\', '/')
      : path;
  if (!/%[\da-f]{2}/i.test(own)) return [own];
  try {
    return [own, decodeURIComponent(own)];
  } catch {
    // Its signs of percent belong to its name.
    return [own];
  }
}

/** A path seen from a folder, with `.` and `..` followed; one that would climb out of the root stays below it. */
function joined(at: string, path: string): string {
  const from = path.startsWith('/') ? [] : at.split('/');
  const parts: string[] = [];
  for (const part of [...from, ...path.split('/')]) {
    if (part === '' || part === '.') continue;
    if (part === '..') parts.pop();
    else parts.push(part);
  }
  return parts.join('/');
}

/** How paths are written into a list. */
export type PathsOut =
  /** Seen from the folder that the list will lie in, below the root of the source. */
  | { readonly type: 'relative'; readonly at: string }
  /** Below a root as the system that reads it has it; `address` makes file addresses of them. */
  | { readonly type: 'absolute' | 'address'; readonly root: string };

/**
 * The possible meanings of a path in a list below the root it was written for, the most likely first: the reverse of
 * `pathOut`.
 */
export function pathsIn(written: string, wishes: PathsOut): readonly string[] {
  return readingsOf(written).map((path) => {
    if (wishes.type === 'relative') return joined(wishes.at, path);
    const root = joined('', (readingsOf(wishes.root)[0] ?? '').replaceAll('\\', '/'));
    const below = joined('', path);
    return root !== '' && below.startsWith(`${root}/`) ? below.slice(root.length + 1) : below;
  });
}

export function pathOut(path: string, wishes: PathsOut): string {
  if (wishes.type === 'relative') return relativeTo(wishes.at, path);
  const root = wishes.root.replace(/[\\/]+$/, '');
  const sign = wishes.root.includes('\\') ? '\\' : '/';
  if (wishes.type === 'absolute') return `${root}${sign}${sign === '/' ? path : path.replaceAll('/', '\\')}`;
  const parts = `${root.replaceAll('\\', '/')}/${path}`.split('/').filter((part) => part !== '');
  return `file:///${parts.map((part, index) => (index === 0 && /^[a-z]:$/i.test(part) ? part : encodeURIComponent(part))).join('/')}`;
}

function relativeTo(at: string, path: string): string {
  const from = at.split('/').filter(Boolean);
  const to = path.split('/');
  let common = 0;
  while (common < from.length && common < to.length - 1 && from[common] === to[common]) common++;
  return [...from.slice(common).map(() => '..'), ...to.slice(common)].join('/');
}

/** A relative path as an address has it: letters that addresses cannot hold are encoded. */
export const asAddress = (path: string): string =>
  path
    .split('/')
    .map((part) => encodeURIComponent(part))
    .join('/');
