import type { ShownList } from './shown-lists';
import { FACTS, leavesOf, type Fact, type ShownFacts, type ShownNode, type Showing } from './showing';

/** What a player's own scan reports that it shows, and what it could not place. */
export interface PlayerScan {
  readonly nodes: readonly ShownNode[];
  readonly unplaced: readonly { readonly path: string; readonly reason: string }[];
  readonly lists: readonly ShownList[];
}

export interface Difference {
  readonly path: string;
  /**
   * `missing`: the player does not show it. `refused`: the player could not place it. `extra`: it was not rehearsed.
   * Otherwise the fact that differs.
   */
  readonly what: 'missing' | 'refused' | 'extra' | 'shelf' | 'list' | Fact;
  readonly rehearsed: string;
  readonly shown: string;
}

export interface Proof {
  /** Items shown exactly as rehearsed. */
  readonly agreed: number;
  /** Playlists with exactly the rehearsed entries. */
  readonly lists: number;
  readonly differences: readonly Difference[];
  /** Items that the player shows and that no run of ours wrote. */
  readonly foreign: number;
}

/** The text that distinguishes a node from its neighbours. Pictures are compared separately. */
const nameOfNode = ({ facts }: ShownNode): string =>
  [facts.maker, facts.title, facts.season, facts.year]
    .filter((part) => part !== null && part !== undefined && part !== '')
    .join(', ');
const nameOfBranch = (above: readonly ShownNode[]): string =>
  above.map(nameOfNode).join(' / ') || 'a shelf without a name';
const word = (value: string | number | null | undefined) =>
  value === null || value === undefined ? 'nothing' : String(value);

/** A file with everything that is shown of it and of the nodes around it. */
interface Seen {
  readonly branch: string;
  readonly picture: string | number | null;
  readonly facts: ShownFacts;
}

function seen(leaf: ShownNode, above: readonly ShownNode[]): Seen {
  const picture = above.findLast(({ facts }) => facts.picture !== undefined)?.facts.picture ?? null;
  return { branch: nameOfBranch(above), picture, facts: leaf.facts };
}

/**
 * Compares a player's own scan with the rehearsal.
 * @param ours paths that the plan wrote or left on the player; other files are foreign and only counted
 * @param keyOf the key under which the player treats paths as equal
 */
export function prove(
  rehearsed: Showing,
  scan: PlayerScan,
  ours: Iterable<string>,
  keyOf: (path: string) => string = (path) => path,
): Proof {
  const shown = new Map<string, Seen & { readonly path: string }>();
  for (const { leaf, above } of leavesOf(scan.nodes)) {
    const path = leaf.path as string;
    shown.set(keyOf(path), { ...seen(leaf, above), path });
  }
  const refused = new Map(scan.unplaced.map(({ path, reason }) => [keyOf(path), reason]));
  const own = new Set([...ours].map(keyOf));
  const differences: Difference[] = [];
  const expected = new Set<string>();
  let agreed = 0;
  for (const { leaf, above } of leavesOf(rehearsed.nodes)) {
    const path = leaf.path as string;
    const key = keyOf(path);
    expected.add(key);
    const mine = seen(leaf, above);
    const theirs = shown.get(key);
    const differs = theirs ? compare(path, mine, theirs, keyOf) : [lost(path, mine, refused.get(key))];
    if (differs.length === 0) agreed++;
    differences.push(...differs);
  }
  let foreign = 0;
  for (const [key, { branch, path }] of shown) {
    if (expected.has(key)) continue;
    if (own.has(key)) differences.push({ path, what: 'extra', rehearsed: 'not placed', shown: branch });
    else foreign++;
  }
  const lists = new Map(scan.lists.map((list) => [keyOf(list.path), list]));
  const otherwise = rehearsed.lists.flatMap((list) => differenceOf(list, lists.get(keyOf(list.path)), keyOf));
  const agreedLists = rehearsed.lists.length - otherwise.length;
  return { agreed, lists: agreedLists, differences: [...differences, ...otherwise], foreign };
}

/** The first difference between a playlist and its rehearsal. */
function differenceOf(
  { path, name, entries }: ShownList,
  shown: ShownList | undefined,
  keyOf: (path: string) => string,
): Difference[] {
  if (!shown)
    return [{ path, what: 'list', rehearsed: `${name}, ${entries.length} entries`, shown: 'not there' }];
  const keys = (list: readonly string[]) => list.map(keyOf);
  const [mine, theirs] = [keys(entries), keys(shown.entries)];
  const at = mine.findIndex((key, index) => key !== theirs[index]);
  if (at < 0 && mine.length === theirs.length && keyOf(name) === keyOf(shown.name)) return [];
  const place = at < 0 ? mine.length : at;
  const told = ({ name: own, entries: all }: ShownList) =>
    `${own}, ${all.length} entries, number ${place + 1} ${all[place] ?? 'none'}`;
  return [{ path, what: 'list', rehearsed: told({ path, name, entries }), shown: told(shown) }];
}

const lost = (path: string, { branch }: Seen, reason: string | undefined): Difference => ({
  path,
  what: reason ? 'refused' : 'missing',
  rehearsed: branch,
  shown: reason ?? 'not there',
});

function compare(path: string, mine: Seen, theirs: Seen, keyOf: (path: string) => string): Difference[] {
  const pictureOf = ({ picture }: Seen) => (typeof picture === 'string' ? keyOf(picture) : picture);
  const pairs: [Difference['what'], Seen['picture'] | undefined, Seen['picture'] | undefined][] = [
    ['shelf', mine.branch, theirs.branch],
    ...FACTS.filter((fact) => fact !== 'picture').map(
      (fact): [Fact, Seen['picture'] | undefined, Seen['picture'] | undefined] => [
        fact,
        mine.facts[fact],
        theirs.facts[fact],
      ],
    ),
    ['picture', pictureOf(mine), pictureOf(theirs)],
  ];
  return pairs
    .filter(([, a, b]) => (a ?? null) !== (b ?? null))
    .map(([what, a, b]) => ({ path, what, rehearsed: word(a), shown: word(b) }));
}
