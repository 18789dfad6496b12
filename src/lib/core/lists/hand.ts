import type { ItemId } from '../items';
import type { HandList, ListEntry, OpenSaid, Suite } from './list';

/*
 * Changes of a list by hand. Entries are told by their positions: the first entry of the first suite is 0, and they are
 * counted on over suites. Every function leaves the list that it is given as it is.
 */

/** A list after a change, and the new positions of the entries that were changed. */
export interface Changed {
  readonly list: HandList;
  readonly positions: ReadonlySet<number>;
}

export const itemOfEntry = (entry: ListEntry): ItemId | null => ('item' in entry ? entry.item : null);

/** All entries, in their order. */
export const entriesOf = ({ suites }: Pick<HandList, 'suites'>): readonly ListEntry[] =>
  suites.length === 1 ? (suites[0] as Suite).entries : suites.flatMap(({ entries }) => entries);

export const countEntries = ({ suites }: Pick<HandList, 'suites'>): number =>
  suites.reduce((sum, { entries }) => sum + entries.length, 0);

const itemsOf = new WeakMap<readonly Suite[], ReadonlySet<ItemId>>();

/** The items of a list, each once. Cached per list. */
export function itemsIn({ suites }: Pick<HandList, 'suites'>): ReadonlySet<ItemId> {
  let items = itemsOf.get(suites);
  if (!items) {
    const own = new Set<ItemId>();
    for (const { entries } of suites) for (const entry of entries) if ('item' in entry) own.add(entry.item);
    itemsOf.set(suites, (items = own));
  }
  return items;
}

/** A loop, because a large list exceeds the number of arguments of a call. */
export const firstOf = (positions: ReadonlySet<number>): number => {
  let first = Infinity;
  for (const one of positions) if (one < first) first = one;
  return first;
};

const lastOf = (positions: ReadonlySet<number>): number => {
  let last = -1;
  for (const one of positions) if (one > last) last = one;
  return last;
};

/** What came of putting items into a list. */
export interface PutIn extends Changed {
  readonly added: number;
  /** Items that were there already, and may be there but once. */
  readonly known: number;
}

/**
 * Adds items at the end.
 * @param suite adds them as one suite, with this name if it has one; null adds them singly
 */
export function putIn(
  list: HandList,
  items: readonly ItemId[],
  suite: { readonly name: string | null } | null,
): PutIn {
  const there = list.allowsDoubles ? new Set<ItemId>() : new Set(itemsIn(list));
  const fresh: ItemId[] = [];
  for (const item of items) {
    if (there.has(item)) continue;
    if (!list.allowsDoubles) there.add(item);
    fresh.push(item);
  }
  const entries = fresh.map((item) => ({ item }));
  const before = countEntries(list);
  const added: readonly Suite[] =
    entries.length === 0
      ? []
      : suite
        ? [{ name: suite.name, entries }]
        : entries.map((entry) => ({ name: null, entries: [entry] }));
  return {
    list: added.length === 0 ? list : { ...list, suites: [...list.suites, ...added] },
    positions: new Set(entries.map((_, index) => before + index)),
    added: entries.length,
    known: items.length - entries.length,
  };
}

/** Adds entries that are not fetched yet at the end, singly. Those already in the list stay where they are. */
export function putOpen(list: HandList, opens: readonly OpenSaid[]): PutIn {
  const keyOf = ({ path, from }: OpenSaid) => JSON.stringify(from ?? path);
  const known = new Set(entriesOf(list).flatMap((entry) => ('open' in entry ? keyOf(entry.open) : [])));
  const fresh = opens.filter((open) => !known.has(keyOf(open)));
  const before = countEntries(list);
  const suites = fresh.map((open): Suite => ({ name: null, entries: [{ open }] }));
  return {
    list: fresh.length === 0 ? list : { ...list, suites: [...list.suites, ...suites] },
    positions: new Set(fresh.map((_, index) => before + index)),
    added: fresh.length,
    known: opens.length - fresh.length,
  };
}

/** Removes entries. Suites that become empty are removed too. */
export function takeOut(list: HandList, positions: ReadonlySet<number>): HandList {
  let at = 0;
  const suites = list.suites.flatMap((suite): Suite[] => {
    const entries = suite.entries.filter(() => !positions.has(at++));
    if (entries.length === suite.entries.length) return [suite];
    return entries.length === 0 ? [] : [{ ...suite, entries }];
  });
  return { ...list, suites };
}

/**
 * Moves entries in front of another; to the end if `before` is their number. A suite whose entries all move goes as a
 * whole and stays between others. Single entries join the suite into which they are put, stay in their own suite when
 * moved within it, and are on their own elsewhere.
 */
export function moveTo(list: HandList, positions: ReadonlySet<number>, before: number): Changed {
  const { head, tail, moved } = partAt(list, positions, before);
  const [left, right] = [head.at(-1), tail[0]];
  const inside = left && right && left.from === right.from ? left : null;
  const own = moved.flatMap((run): Run[] => {
    if (run.isWhole) return [run];
    if (inside) return [{ from: inside.from, name: inside.name, entries: run.entries }];
    if (left?.from === run.from || right?.from === run.from) return [run];
    return run.entries.map((entry) => ({ from: ALONE, name: null, entries: [entry] }));
  });
  // A suite into which another suite is moved is split: both parts keep its name.
  const isParted = inside !== null && own.some(({ from }) => from !== inside.from);
  const last = right && isParted ? { ...right, from: ALONE } : right;
  const middle = joined([...(left ? [left] : []), ...own, ...(last ? [last] : [])]);
  const first = countEntries({ suites: head });
  const count = countEntries({ suites: own });
  return {
    list: {
      ...list,
      suites: [...head.slice(0, -1).map(suiteOf), ...middle, ...tail.slice(1).map(suiteOf)],
    },
    positions: new Set(Array.from({ length: count }, (_, index) => first + index)),
  };
}

/** Consecutive entries of one suite, with its position in the list; `ALONE` joins with no other. */
interface Run {
  readonly from: number;
  readonly name: string | null;
  readonly entries: readonly ListEntry[];
  /** All of its suite, which is more than a single entry. */
  readonly isWhole?: boolean;
  /** The suite, if the run contains all of it. */
  readonly suite?: Suite;
}
const ALONE = -1;

const suiteOf = ({ suite, name, entries }: Run): Suite => suite ?? { name, entries };

/** Adjacent runs of one suite become one. */
function joined(runs: readonly Run[]): readonly Suite[] {
  const all: Run[] = [];
  for (const run of runs) {
    const last = all.at(-1);
    if (last && run.from !== ALONE && run.from === last.from)
      all[all.length - 1] = { from: run.from, name: run.name, entries: [...last.entries, ...run.entries] };
    else all.push(run);
  }
  return all.map(suiteOf);
}

/** Separates the entries that move from those before and after the target. Untouched suites stay. */
function partAt({ suites }: HandList, positions: ReadonlySet<number>, before: number) {
  const end = countEntries({ suites });
  // In front of what stays: an entry that moves itself is no place to be put in front of.
  let target = Math.max(0, Math.min(before, end));
  while (target < end && positions.has(target)) target++;
  const head: Run[] = [];
  const tail: Run[] = [];
  const moved: Run[] = [];
  let start = 0;
  suites.forEach((suite, from) => {
    const { name, entries } = suite;
    let count = 0;
    for (let place = 0; place < entries.length; place++) if (positions.has(start + place)) count++;
    const isTouched = count > 0 || (target > start && target < start + entries.length);
    if (!isTouched) (target <= start ? tail : head).push({ from, name, entries, suite });
    else {
      const taken = entries.filter((_, place) => positions.has(start + place));
      const isAll = count === entries.length;
      const isWhole = isAll && !isSingle(suite);
      if (count > 0) moved.push({ from, name, entries: taken, isWhole, ...(isAll && { suite }) });
      const rest = (isOf: (at: number) => boolean) =>
        entries.filter((_, place) => !positions.has(start + place) && isOf(start + place));
      const [sooner, later] = [rest((at) => at < target), rest((at) => at >= target)];
      if (sooner.length > 0) head.push({ from, name, entries: sooner });
      if (later.length > 0) tail.push({ from, name, entries: later });
    }
    start += entries.length;
  });
  return { head, tail, moved };
}

const isSingle = ({ name, entries }: Suite): boolean => name === null && entries.length === 1;

/** Moves entries up (-1) or down (1) by one position, or past a whole suite if they are whole suites. */
export function moveBy(list: HandList, positions: ReadonlySet<number>, by: 1 | -1): Changed {
  if (positions.size === 0) return { list, positions };
  const starts: number[] = [];
  let at = 0;
  for (const { entries } of list.suites) {
    starts.push(at);
    at += entries.length;
  }
  const count = at;
  const areWhole = list.suites.every(({ entries }, index) => {
    const start = starts[index] as number;
    const chosen = entries.filter((_, place) => positions.has(start + place)).length;
    return chosen === 0 || chosen === entries.length;
  });
  const first = firstOf(positions);
  const last = lastOf(positions);
  const edges = areWhole ? [...starts, count] : Array.from({ length: count + 1 }, (_, index) => index);
  const target = by < 0 ? edges.findLast((edge) => edge < first) : edges.find((edge) => edge > last + 1);
  return target === undefined ? { list, positions } : moveTo(list, positions, target);
}

/** Makes entries one suite at the position of the first of them. */
export function joinSuite(list: HandList, positions: ReadonlySet<number>, name: string | null): Changed {
  const { head, tail, moved } = partAt(list, positions, firstOf(positions));
  const entries = moved.flatMap((run) => run.entries);
  const first = countEntries({ suites: head });
  return {
    list: { ...list, suites: [...head.map(suiteOf), { name, entries }, ...tail.map(suiteOf)] },
    positions: new Set(entries.map((_, index) => first + index)),
  };
}

/** Parts the suites of entries into single ones. */
export function partSuites(list: HandList, positions: ReadonlySet<number>): HandList {
  const touched = suitesAt(list, positions);
  const suites = list.suites.flatMap((suite, index): readonly Suite[] =>
    touched.has(index) && (suite.entries.length > 1 || suite.name !== null)
      ? suite.entries.map((entry) => ({ name: null, entries: [entry] }))
      : [suite],
  );
  return { ...list, suites };
}

/** The suites that contain these entries, by position. */
export function suitesAt(list: HandList, positions: ReadonlySet<number>): ReadonlySet<number> {
  const touched = new Set<number>();
  let at = 0;
  list.suites.forEach(({ entries }, index) => {
    for (let place = 0; place < entries.length; place++) if (positions.has(at + place)) touched.add(index);
    at += entries.length;
  });
  return touched;
}

export function nameSuite(list: HandList, suite: number, name: string | null): HandList {
  return { ...list, suites: list.suites.map((own, index) => (index === suite ? { ...own, name } : own)) };
}

/**
 * Puts suites, and the entries within each, in order once. Suites go by their first entry. What `compare` has no opinion
 * on stays in its order.
 */
export function sortOnce(list: HandList, compare: (a: ListEntry, b: ListEntry) => number): HandList {
  const suites = list.suites
    .map((suite) => ({ ...suite, entries: [...suite.entries].sort(compare) }))
    .sort((a, b) => compare(a.entries[0] as ListEntry, b.entries[0] as ListEntry));
  return { ...list, suites };
}

/** Positions of entries whose item is already in the list before them. */
export function doublesIn(list: Pick<HandList, 'suites'>): ReadonlySet<number> {
  const seen = new Set<ItemId>();
  const doubles = new Set<number>();
  entriesOf(list).forEach((entry, at) => {
    const item = itemOfEntry(entry);
    if (item === null) return;
    if (seen.has(item)) doubles.add(at);
    seen.add(item);
  });
  return doubles;
}

/** Puts an item in the place of an entry that none was found for. Status elsewhere, and may but once, that entry goes. */
export function layTo(list: HandList, position: number, item: ItemId): HandList {
  if (!list.allowsDoubles && itemsIn(list).has(item)) return takeOut(list, new Set([position]));
  let at = 0;
  const suites = list.suites.map((suite) => {
    const own = position - at;
    at += suite.entries.length;
    if (own < 0 || own >= suite.entries.length) return suite;
    return { ...suite, entries: suite.entries.map((entry, index) => (index === own ? { item } : entry)) };
  });
  return { ...list, suites };
}
