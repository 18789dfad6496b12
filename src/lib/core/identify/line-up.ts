import type { Certainty } from '../kinds';
import { assign } from './assign';
import {
  numberPoints,
  plainPoints,
  sumPoints,
  weighPair,
  type LineFile,
  type NumberTrust,
  type PairEvidence,
} from './evidence';
import type { ReferenceEntry } from './reference';

/** One file laid against one entry. */
export interface Pair {
  readonly file: string;
  readonly entry: string;
  readonly points: number;
  /** Points that the whole would lose without this pair: few if another fits as well. */
  readonly margin: number;
  readonly certainty: Exclude<Certainty, 'open'>;
  readonly evidence: readonly PairEvidence[];
  readonly locked: boolean;
  /** It crosses another pair: the files' order is not the entries'. */
  readonly crosses: boolean;
}

export interface LineUp {
  readonly pairs: readonly Pair[];
  readonly openFiles: readonly string[];
  readonly openEntries: readonly string[];
  readonly numbers: NumberTrust;
  /** Sum of the pairs' points. */
  readonly points: number;
}

/** What the curator decided before pairing. */
export interface Decisions {
  /** File to entry; null keeps the file open. */
  readonly locked: Readonly<Record<string, string | null>>;
  /** Files that are no part of it. */
  readonly leftOut: readonly string[];
}

export const NO_DECISIONS: Decisions = { locked: {}, leftOut: [] };

/** Points that a pair needs at least: below, file and entry stay open. */
const LEAST_POINTS = 8;
const SURE = { points: 26, margin: 22 };
const LIKELY = { points: 16, margin: 8 };
/** Margin that distrust of the numbers adds to what "sure" asks for. */
const DISTRUST = 44;

/**
 * Matches files with entries at the least total cost of length, title, number and sound. Both lists keep their order;
 * nothing is sorted. Takes cubic time in the longer list.
 */
export function lineUp(
  files: readonly LineFile[],
  entries: readonly ReferenceEntry[],
  decisions: Decisions = NO_DECISIONS,
  /** Margins cost as much as the pairing itself; they are left out if only the pairs matter. */
  withMargins = true,
): LineUp {
  return settle(files, entries, decisions, (free, open, benefits) => {
    const { columnOf, margins } = assign(benefits, free.length, open.length, withMargins);
    return free.map((_, row) => ({ column: columnOf[row] as number, margin: margins[row] as number }));
  });
}

/** The best line-up without crossings, in the files' own order. Decisions apply in it too, and may cross. */
export function straightLineUp(
  files: readonly LineFile[],
  entries: readonly ReferenceEntry[],
  decisions: Decisions = NO_DECISIONS,
): LineUp {
  return settle(files, entries, decisions, (free, open, benefits) =>
    inOrder(benefits, free.length, open.length).map((column, row) => ({
      column,
      margin: column < 0 ? 0 : Math.max(0, benefits[row * open.length + column] as number),
    })),
  );
}

type Solve = (
  files: readonly LineFile[],
  entries: readonly ReferenceEntry[],
  benefits: Float64Array,
) => readonly { readonly column: number; readonly margin: number }[];

function settle(
  files: readonly LineFile[],
  entries: readonly ReferenceEntry[],
  { locked, leftOut }: Decisions,
  solve: Solve,
): LineUp {
  const known = new Set(entries.map(({ id }) => id));
  const out = new Set(leftOut);
  const lock = (file: LineFile): string | null | undefined => {
    const entry = locked[file.id];
    return entry === undefined || entry === null || known.has(entry) ? entry : undefined;
  };
  const lockedEntries = new Set(files.filter(({ id }) => !out.has(id)).map(lock));
  const free = files.filter((file) => !out.has(file.id) && lock(file) === undefined);
  const open = entries.filter(({ id }) => !lockedEntries.has(id));
  const present = files.filter(({ id }) => !out.has(id));
  const weighed = weighAll(present, entries);
  const numbers = trustNumbers(present, entries, weighed);
  const rowOfFile = new Map(present.map(({ id }, row) => [id, row]));
  const columnOfEntry = new Map(entries.map(({ id }, column) => [id, column]));
  const benefits = new Float64Array(free.length * open.length);
  for (const [row, file] of free.entries()) {
    const from = (rowOfFile.get(file.id) as number) * entries.length;
    for (const [column, entry] of open.entries())
      benefits[row * open.length + column] =
        (weighed[from + (columnOfEntry.get(entry.id) as number)] as number) +
        numberPoints(file, entry, numbers) -
        LEAST_POINTS;
  }
  const found = solve(free, open, benefits);
  const pairs: Omit<Pair, 'crosses'>[] = [];
  const byEntry = new Map(entries.map((entry) => [entry.id, entry]));
  const rowOf = new Map(free.map((file, row) => [file.id, row]));
  for (const file of files) {
    const row = rowOf.get(file.id);
    const chosen = row === undefined ? undefined : found[row];
    const entry = chosen ? open[chosen.column] : byEntry.get(lock(file) ?? '');
    if (!entry || out.has(file.id)) continue;
    const evidence = weighPair(file, entry, numbers);
    const points = sumPoints(evidence);
    const margin = chosen?.margin ?? points;
    pairs.push({
      file: file.id,
      entry: entry.id,
      points,
      margin,
      evidence,
      locked: !chosen,
      certainty: chosen ? certaintyOf(points, margin, numbers, evidence) : 'sure',
    });
  }
  const paired = new Set(pairs.flatMap(({ file, entry }) => [file, entry]));
  return {
    pairs: markCrossings(pairs, files, entries),
    openFiles: files.filter(({ id }) => !paired.has(id) && !out.has(id)).map(({ id }) => id),
    openEntries: entries.filter(({ id }) => !paired.has(id)).map(({ id }) => id),
    numbers,
    points: pairs.reduce((sum, pair) => sum + pair.points, 0),
  };
}

function certaintyOf(
  points: number,
  margin: number,
  { trust }: NumberTrust,
  evidence: readonly PairEvidence[],
): Pair['certainty'] {
  const told = evidence.some(({ code }) => code === 'number');
  const asked = SURE.margin + (told ? DISTRUST * (1 - trust) : 0);
  // One thing alone is no proof: something else must agree, or at least not disagree.
  const speaks = evidence.filter(({ points: own }) => own > 0).length;
  const against = evidence.some(({ code, points: own }) => code !== 'number' && own <= -12);
  if (points >= SURE.points && margin >= asked && speaks >= 1 && !against) return 'sure';
  return points >= LIKELY.points && margin >= LIKELY.margin ? 'likely' : 'guess';
}

/** Points without numbers from which a file's best entry may vouch for its number. */
const VOUCHES = 22;
/** Lead over its next best entry that vouching asks for. */
const VOUCHES_BY = 12;
/** Trust in numbers that nothing else confirms or contradicts. */
const UNTESTED = 0.75;

/**
 * Whether the files' numbers are those of the entries, perhaps all shifted: files that match by length and title
 * confirm theirs. Numbers that contradict the others count less, or not at all.
 */
export function trustNumbers(
  files: readonly LineFile[],
  entries: readonly ReferenceEntry[],
  weighed: Float64Array = weighAll(files, entries),
): NumberTrust {
  const votes = new Map<number, number>();
  let voters = 0;
  for (const [row, file] of files.entries()) {
    if (file.number === null) continue;
    const best = standsOut(row, entries, weighed);
    if (!best || (file.disc !== null && best.disc !== null && file.disc !== best.disc)) continue;
    const offset = best.number - file.number;
    votes.set(offset, (votes.get(offset) ?? 0) + 1);
    voters++;
  }
  const [offset, count] = [...votes].sort((a, b) => b[1] - a[1])[0] ?? [0, 0];
  if (voters < 2 || count < 2) return { offset: likelyOffset(files, entries), trust: UNTESTED };
  const share = count / voters;
  // A few that agree may do so by chance.
  return { offset, trust: share < 0.4 ? 0 : voters < 4 ? Math.min(share, 0.9) : share };
}

/** Points of every pair but for their numbers, row by row. */
function weighAll(files: readonly LineFile[], entries: readonly ReferenceEntry[]): Float64Array {
  const weighed = new Float64Array(files.length * entries.length);
  let at = 0;
  for (const file of files) for (const entry of entries) weighed[at++] = plainPoints(file, entry);
  return weighed;
}

/** The entry that a file fits far better than all others, or null. */
function standsOut(
  row: number,
  entries: readonly ReferenceEntry[],
  weighed: Float64Array,
): ReferenceEntry | null {
  let best = -1;
  let [bestPoints, nextPoints] = [-Infinity, -Infinity];
  for (let column = 0; column < entries.length; column++) {
    const points = weighed[row * entries.length + column] as number;
    if (points > bestPoints) [best, bestPoints, nextPoints] = [column, points, bestPoints];
    else if (points > nextPoints) nextPoints = points;
  }
  return bestPoints >= VOUCHES && bestPoints - nextPoints >= VOUCHES_BY ? (entries[best] ?? null) : null;
}

/** Files counted from 00 up to one less than the last entry are the entries, counted from zero. */
function likelyOffset(files: readonly LineFile[], entries: readonly ReferenceEntry[]): number {
  const numbers = files.flatMap(({ number }) => number ?? []);
  const zeros = numbers.filter((number) => number === 0).length;
  const first = entries[0]?.number ?? 1;
  return zeros === 1 && first === 1 && Math.max(...numbers) < Math.max(...entries.map(({ number }) => number))
    ? 1
    : 0;
}

/** The pairs of greatest total benefit that keep both orders: the column of each row, -1 for none. */
function inOrder(benefits: Float64Array, rows: number, columns: number): number[] {
  const width = columns + 1;
  const best = new Float64Array((rows + 1) * width);
  for (let row = 1; row <= rows; row++)
    for (let column = 1; column <= columns; column++) {
      const pair = benefits[(row - 1) * columns + column - 1] as number;
      best[row * width + column] = Math.max(
        best[(row - 1) * width + column] as number,
        best[row * width + column - 1] as number,
        (best[(row - 1) * width + column - 1] as number) + Math.max(0, pair),
      );
    }
  const columnOf = new Array<number>(rows).fill(-1);
  for (let row = rows, column = columns; row > 0 && column > 0;) {
    const here = best[row * width + column] as number;
    if (here === best[(row - 1) * width + column]) row--;
    else if (here === best[row * width + column - 1]) column--;
    else columnOf[--row] = --column;
  }
  return columnOf;
}

function markCrossings(
  pairs: readonly Omit<Pair, 'crosses'>[],
  files: readonly LineFile[],
  entries: readonly ReferenceEntry[],
): readonly Pair[] {
  const fileAt = new Map(files.map(({ id }, index) => [id, index]));
  const entryAt = new Map(entries.map(({ id }, index) => [id, index]));
  const places = pairs
    .map((pair) => ({ pair, file: fileAt.get(pair.file) ?? 0, entry: entryAt.get(pair.entry) ?? 0 }))
    .sort((a, b) => a.file - b.file);
  // A pair crosses if an earlier one is matched further down, or a later one further up.
  let highest = -1;
  const before = places.map(({ entry }) => {
    const crosses = highest > entry;
    highest = Math.max(highest, entry);
    return crosses;
  });
  let lowest = Infinity;
  const crossing = new Set<string>();
  for (let index = places.length - 1; index >= 0; index--) {
    const { pair, entry } = places[index] as (typeof places)[number];
    if (before[index] || lowest < entry) crossing.add(pair.file);
    lowest = Math.min(lowest, entry);
  }
  return pairs.map((pair) => ({ ...pair, crosses: crossing.has(pair.file) }));
}

/** Pairs that must move before the rest is in order: all pairs less the longest ordered run. */
export function outOfOrder(
  lined: LineUp,
  files: readonly { readonly id: string }[],
  entries: readonly { readonly id: string }[],
): number {
  const entryAt = new Map(entries.map(({ id }, index) => [id, index]));
  const fileAt = new Map(files.map(({ id }, index) => [id, index]));
  const places = [...lined.pairs]
    .sort((a, b) => (fileAt.get(a.file) ?? 0) - (fileAt.get(b.file) ?? 0))
    .map(({ entry }) => entryAt.get(entry) ?? 0);
  const tails: number[] = [];
  for (const place of places) {
    const at = tails.findIndex((tail) => tail >= place);
    if (at < 0) tails.push(place);
    else tails[at] = place;
  }
  return places.length - tails.length;
}

/** Points of a line-up by their source, to show what supports it. */
export function pointsByCode(lined: LineUp): Readonly<Record<PairEvidence['code'], number>> {
  const sums = { length: 0, title: 0, number: 0, sound: 0 };
  for (const { evidence } of lined.pairs) for (const { code, points } of evidence) sums[code] += points;
  return sums;
}
