import type { HandList, ListEntry, Suite } from './list';

/** The merged order of both sides, or the keys that they changed differently. */
export type Merged =
  | { readonly type: 'merged'; readonly keys: readonly string[] }
  | { readonly type: 'conflict'; readonly keys: readonly string[] };

/** What a side changed in the order of the base. */
interface Made {
  readonly order: readonly string[];
  readonly has: ReadonlySet<string>;
  /** Keys that kept their position relative to each other. */
  readonly still: ReadonlySet<string>;
}

/** The position of a run before all keys that both sides kept. */
const FRONT = -1;

/**
 * Merges the changes of two sides to an order, key by key: additions, removals and moves of either side are applied.
 * Moves of the same key to different positions, and a move of one side against a removal of the other, are conflicts.
 * The result does not depend on which side is which.
 * @param base the order that both agreed on. No order has a key twice.
 */
export function mergeOrders(
  base: readonly string[],
  here: readonly string[],
  there: readonly string[],
): Merged {
  const [a, b] = [madeOf(base, here), madeOf(base, there)];
  const known = new Set(base);
  const isMoved = (side: Made, key: string) => known.has(key) && side.has.has(key) && !side.still.has(key);
  const spine = base.filter((key) => a.still.has(key) && b.still.has(key));
  const [runsA, runsB] = [runsOf(a, b), runsOf(b, a)];
  const conflicts = base.filter((key) => {
    const [movedA, movedB] = [isMoved(a, key), isMoved(b, key)];
    if (movedA && movedB) return runsA.anchors.get(key) !== runsB.anchors.get(key);
    return (movedA && !b.has.has(key)) || (movedB && !a.has.has(key));
  });
  if (conflicts.length > 0) return { type: 'conflict', keys: conflicts };
  const keys: string[] = [];
  for (let at = FRONT; at < spine.length; at++) {
    if (at > FRONT) keys.push(spine[at] as string);
    // A key that both sides added stands where the side has it that put it further forward.
    const own = (runs: Runs, other: Runs) =>
      (runs.at.get(at) ?? []).filter((key) => (other.anchors.get(key) ?? at) >= at);
    keys.push(...mergeRuns(own(runsA, runsB), own(runsB, runsA)));
  }
  return { type: 'merged', keys };

  /** The keys that a side added or moved, by the key before them that both sides kept. */
  function runsOf(side: Made, other: Made): Runs {
    const places = new Map(spine.map((key, index) => [key, index]));
    const at = new Map<number, string[]>();
    const anchors = new Map<string, number>();
    let anchor = FRONT;
    for (const key of side.order) {
      const place = places.get(key);
      if (place !== undefined) anchor = place;
      else if (!known.has(key) || (!side.still.has(key) && other.has.has(key))) {
        anchors.set(key, anchor);
        const run = at.get(anchor);
        if (run) run.push(key);
        else at.set(anchor, [key]);
      }
    }
    return { at, anchors };
  }
}

interface Runs {
  readonly at: ReadonlyMap<number, readonly string[]>;
  readonly anchors: ReadonlyMap<string, number>;
}

/** Merges two runs at one position; common keys appear once. */
function mergeRuns(a: readonly string[], b: readonly string[]): readonly string[] {
  if (a.length === 0 || b.length === 0) return a.length === 0 ? b : a;
  const [first, second] = a.join('\n') <= b.join('\n') ? [a, b] : [b, a];
  const [inFirst, inSecond] = [new Set(first), new Set(second)];
  const shared = first.filter((key) => inSecond.has(key));
  const isAlike = second.filter((key) => inFirst.has(key)).every((key, index) => key === shared[index]);
  if (!isAlike) return [...first, ...second.filter((key) => !inFirst.has(key))];
  const merged: string[] = [];
  let [at, from] = [0, 0];
  for (const key of [...shared, null]) {
    const end = key === null ? first.length : first.indexOf(key, at);
    const until = key === null ? second.length : second.indexOf(key, from);
    merged.push(...first.slice(at, end), ...second.slice(from, until), ...(key === null ? [] : [key]));
    [at, from] = [end + 1, until + 1];
  }
  return merged;
}

function madeOf(base: readonly string[], order: readonly string[]): Made {
  const places = new Map(base.map((key, index) => [key, index]));
  const kept = order.filter((key) => places.has(key));
  return { order, has: new Set(order), still: new Set(longestRising(kept, (key) => places.get(key) ?? 0)) };
}

/** The longest part of a sequence that rises, in its order: patience sorting, n log n. */
function longestRising(keys: readonly string[], placeOf: (key: string) => number): readonly string[] {
  const tails: number[] = [];
  const before: (number | undefined)[] = [];
  keys.forEach((key, index) => {
    const place = placeOf(key);
    let [low, high] = [0, tails.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (placeOf(keys[tails[middle] as number] as string) < place) low = middle + 1;
      else high = middle;
    }
    before[index] = low > 0 ? tails[low - 1] : undefined;
    tails[low] = index;
  });
  const rising: string[] = [];
  for (let at = tails.at(-1); at !== undefined; at = before[at]) rising.push(keys[at] as string);
  return rising.reverse();
}

/** Names each of several equal keys apart, by their order. */
export function numbered(keys: readonly string[]): readonly string[] {
  const counts = new Map<string, number>();
  return keys.map((key) => {
    const count = (counts.get(key) ?? 0) + 1;
    counts.set(key, count);
    return count === 1 ? key : `${key}\n${count}`;
  });
}

/** The key of an entry. */
export const entryKey = (entry: ListEntry): string =>
  'item' in entry ? `item ${entry.item}` : `open ${entry.open.path}`;

/**
 * A hand list with other entries. Entries that stay keep their suites; a new one joins the suite around it, or is a
 * suite of its own.
 */
export function withEntries(list: HandList, entries: readonly ListEntry[]): HandList {
  const home = new Map<string, number>();
  const own = list.suites.flatMap((suite, index) => suite.entries.map((entry) => ({ entry, index })));
  const ownKeys = numbered(own.map(({ entry }) => entryKey(entry)));
  own.forEach(({ index }, at) => home.set(ownKeys[at] as string, index));
  const homes = numbered(entries.map(entryKey)).map((key) => home.get(key) ?? null);
  // For each position, the suite of the next entry that has one.
  const coming: (number | null)[] = [];
  for (let at = entries.length - 1, next: number | null = null; at >= 0; at--) {
    next = homes[at] ?? next;
    coming[at] = next;
  }
  const isSuite = (index: number) => {
    const { name, entries: inside } = list.suites[index] as Suite;
    return name !== null || inside.length > 1;
  };
  const suites: { name: string | null; entries: ListEntry[]; from: number | null }[] = [];
  entries.forEach((entry, at) => {
    const last = suites.at(-1);
    const from = homes[at] ?? (last && last.from === coming[at] ? last.from : null);
    if (last && from !== null && last.from === from && isSuite(from)) last.entries.push(entry);
    else
      suites.push({
        name: from === null ? null : (list.suites[from] as Suite).name,
        entries: [entry],
        from,
      });
  });
  return { ...list, suites: suites.map(({ name, entries: inside }) => ({ name, entries: inside })) };
}
