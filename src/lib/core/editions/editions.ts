import { fieldsOf, homeOf, isCatchAll, kindOf, makerKey, makerOf, yearOf, type Item } from '../items';
import { foldCase } from '../naming';
import { editionMark, inAFewWords, type Told } from '../plan';
import { SAME_SOUND, soundDistance, type Fingerprint } from '../sound';

/** One version of a release: the files of one folder, format and mark. */
export interface Version {
  readonly home: string;
  readonly edition: string | null;
  readonly items: readonly Item[];
  /** A short description of its files. */
  readonly is: string;
  readonly year: number | null;
  /** A name for it; null for the first one, and if nothing distinguishes it from that. */
  readonly mark: string | null;
  /** Titles that it has in common with the first one, with about the same length. */
  readonly shared: number;
  /**
   * How its audio differs from that of the first one, from 0 to 1, if both were analysed; otherwise null. Below
   * `SAME_SOUND` it is the same recording; the lower, the more likely the same mastering.
   */
  readonly distance: number | null;
}

/** Versions of one release that players may take for one. */
export interface Editions {
  readonly key: string;
  readonly album: string;
  readonly maker: string;
  readonly versions: readonly Version[];
  /** None of them has the mark of another. */
  readonly isTold: boolean;
}

/** Seconds by which the same title may last longer in another version. */
const SAME_LENGTH = 3;
/** Share of a version's titles that another must have for both to be versions of one release. */
const SHARED = 0.5;
/** Items that are looked at before the page gets its turn. */
const AT_ONCE = 500;
/** Text in brackets at the end of an album title. */
const MARK = /\s*[[(][^[\]()]*[\])]$/;

const toldOf = (item: Item): Told => ({
  path: item.path,
  fields: fieldsOf(item),
  format: item.format,
  size: item.size,
  durationSeconds: item.facts.durationSeconds,
  streams: item.facts.streams,
  file: item.file,
  outgoing: item.edits,
});

/**
 * Finds releases that exist in more than one version: equal titles and lengths under one album, in other folders or
 * formats. In steps, for libraries of any size.
 * @param soundOf the fingerprint of an item, if it was analysed
 */
export function* findEditions(
  items: Iterable<Item>,
  soundOf: (item: Item) => Fingerprint | null = () => null,
): Generator<void, readonly Editions[]> {
  const albums = new Map<string, Item[]>();
  let seen = 0;
  for (const item of items) {
    if (seen++ % AT_ONCE === AT_ONCE - 1) yield;
    const kind = kindOf(item);
    const { album, ...fields } = fieldsOf(item);
    if (!album || (kind !== 'song' && kind !== 'audiobook') || item.gone !== null) continue;
    const name = album.replace(MARK, '') || album;
    const key = `${kind}\n${foldCase(name)}\n${foldCase(makerKey(fields))}`;
    const own = albums.get(key);
    if (own) own.push(item);
    else albums.set(key, [item]);
  }
  const found: Editions[] = [];
  for (const [key, own] of albums) {
    if (seen++ % AT_ONCE === AT_ONCE - 1) yield;
    const editions = own.length > 1 ? editionsIn(key, own, soundOf) : null;
    if (editions) found.push(editions);
  }
  return found.sort((a, b) => Number(a.isTold) - Number(b.isTold) || (a.album < b.album ? -1 : 1));
}

function editionsIn(
  key: string,
  items: readonly Item[],
  soundOf: (item: Item) => Fingerprint | null,
): Editions | null {
  const parts = new Map<string, Item[]>();
  for (const item of items) {
    const home = homeOf(item.path);
    // Files in a folder for all sorts of things are together by chance.
    const where = isCatchAll(home) ? '' : `${item.source}\n${home}`;
    const part = `${where}\n${item.format}\n${fieldsOf(item).edition ?? ''}`;
    const own = parts.get(part);
    if (own) own.push(item);
    else parts.set(part, [item]);
  }
  const [first, ...rest] = [...parts.values()].sort((a, b) => b.length - a.length);
  if (!first || rest.length === 0) return null;
  const titles = new Map(first.map((item) => [titleKey(item), item]));
  const others = rest.flatMap((own): Version[] => {
    const pairs = own.flatMap((item) => {
      const other = titles.get(titleKey(item));
      return other && areAsLong(item, other) ? [[item, other] as const] : [];
    });
    if (pairs.length < Math.max(1, own.length * SHARED)) return [];
    const [[one, other]] = pairs as unknown as readonly [readonly [Item, Item]];
    return [
      {
        ...versionOf(own),
        mark: editionMark(toldOf(one), toldOf(other)),
        shared: pairs.length,
        distance: distanceOf(pairs, soundOf),
      },
    ];
  });
  if (others.length === 0) return null;
  const versions = [{ ...versionOf(first), mark: null, shared: first.length, distance: null }, ...others];
  const [one] = first as unknown as readonly [Item];
  const fields = fieldsOf(one);
  return {
    key,
    album: fields.album ?? '',
    maker: makerOf(fields, '') ?? '',
    versions,
    isTold: new Set(versions.map(({ edition }) => edition)).size === versions.length,
  };
}

const titleKey = (item: Item): string => {
  const { title, disc } = fieldsOf(item);
  return `${disc ?? 1}\n${foldCase((title ?? '').replace(MARK, ''))}`;
};

function areAsLong(a: Item, b: Item): boolean {
  const [one, other] = [a.facts.durationSeconds, b.facts.durationSeconds];
  return one !== null && other !== null && Math.abs(one - other) <= SAME_LENGTH;
}

function versionOf(items: readonly Item[]): Omit<Version, 'mark' | 'shared' | 'distance'> {
  const [first] = items as readonly [Item];
  const fields = fieldsOf(first);
  return {
    home: homeOf(first.path),
    edition: fields.edition,
    items,
    is: inAFewWords(toldOf(first), false),
    year: yearOf(fields),
  };
}

/** Pairs that are compared for one version: a few tell as much as all. */
const HEARD = 3;

function distanceOf(
  pairs: readonly (readonly [Item, Item])[],
  soundOf: (item: Item) => Fingerprint | null,
): number | null {
  const distances: number[] = [];
  for (const [item, other] of pairs) {
    if (distances.length === HEARD) break;
    const [own, theirs] = [soundOf(item), soundOf(other)];
    const distance = own && theirs && soundDistance(own, theirs);
    if (distance !== null) distances.push(distance);
  }
  return distances.length === 0 ? null : distances.reduce((sum, one) => sum + one, 0) / distances.length;
}

/** Whether all versions that were analysed are one recording. */
export const soundsAlike = (distance: number): boolean => distance <= SAME_SOUND;
