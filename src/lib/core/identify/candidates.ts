import { likeness, plainText } from './likeness';
import { NO_DECISIONS, lineUp, outOfOrder, straightLineUp, type LineUp } from './line-up';
import type { LineFile } from './evidence';
import { entriesInOrder, type OrderName, type ReferenceRelease } from './reference';

/** One reason of a score: points out of `most`, and what they were given for. */
export interface ScoreReason {
  readonly code: 'lengths' | 'order' | 'name' | 'count';
  readonly points: number;
  readonly most: number;
  /** Numbers for the sentence: hits and tries, pairs out of order, likeness in percent, or files and entries. */
  readonly detail: readonly number[];
}

/** A release that a gathering could be, in one of its orders. */
export interface Candidate {
  readonly key: string;
  readonly release: ReferenceRelease;
  /** Null for the release's own order. */
  readonly order: OrderName | null;
  /** 0 to 100. */
  readonly score: number;
  readonly reasons: readonly ScoreReason[];
}

const MOST = { lengths: 40, order: 20, name: 25, count: 15 } as const;
/** Seconds within which a length matches: larger for video discs, which are cut more loosely. */
const withinSeconds = (release: Pick<ReferenceRelease, 'type'>): number =>
  release.type === 'series' || release.type === 'film' ? 61 : 5;

/** Scores below this are no candidates. */
const LEAST_SCORE = 12;

/**
 * Everything that the files could be, best first: each release in each of its orders, scored by the line-up
 * that it gives.
 * @param words what the gathering is called
 * @param least score of the worst candidate that counts
 */
export function rankCandidates(
  files: readonly LineFile[],
  words: string,
  releases: readonly ReferenceRelease[],
  least = LEAST_SCORE,
): readonly Candidate[] {
  const seen = new Set<string>();
  const candidates: Candidate[] = [];
  for (const release of releases) {
    if (seen.has(release.id)) continue;
    seen.add(release.id);
    for (const order of [null, ...release.orders.map(({ name }) => name)]) {
      const candidate = scoreCandidate(files, words, release, order);
      if (candidate.score >= least) candidates.push(candidate);
    }
  }
  return candidates.sort((a, b) => b.score - a.score || (a.order === null ? -1 : 1));
}

function scoreCandidate(
  files: readonly LineFile[],
  words: string,
  release: ReferenceRelease,
  order: OrderName | null,
): Candidate {
  const entries = entriesInOrder(release, order);
  const lined = lineUp(files, entries, NO_DECISIONS, false);
  const reasons: readonly ScoreReason[] = [
    lengthsReason(files, lined, release),
    orderReason(files, lined, entries),
    nameReason(words, release),
    countReason(files.length, entries.length),
  ];
  return {
    key: `${release.id}\n${order ?? ''}`,
    release,
    order,
    reasons,
    score: Math.round(reasons.reduce((sum, { points }) => sum + points, 0)),
  };
}

function lengthsReason(files: readonly LineFile[], lined: LineUp, release: ReferenceRelease): ScoreReason {
  const within = withinSeconds(release);
  const timed = files.filter(({ lengthSeconds }) => lengthSeconds !== null).length;
  const tries = Math.min(timed, release.entries.length);
  const hits = lined.pairs.filter(({ evidence }) =>
    evidence.some(({ code, measure }) => code === 'length' && Math.abs(measure) <= within),
  ).length;
  return reason('lengths', tries === 0 ? 0 : hits / tries, [hits, tries, within]);
}

function orderReason(
  files: readonly LineFile[],
  lined: LineUp,
  entries: readonly { readonly id: string }[],
): ScoreReason {
  const moved = outOfOrder(lined, files, entries);
  const pairs = lined.pairs.length;
  return reason('order', pairs === 0 ? 0 : (pairs - 2 * moved) / pairs, [moved, pairs]);
}

function nameReason(words: string, release: ReferenceRelease): ScoreReason {
  const full = [release.maker, release.title].filter(Boolean).join(' ');
  const share =
    words === '' ? 0 : Math.max(likeness(words, full), likeness(words, release.title), covers(words, full));
  // Half alike is chance: letters repeat in all names.
  const points = Math.max(0, (share - 0.4) / 0.6);
  return reason('name', points, [Math.round(share * 100)]);
}

/** Share of the words that the name contains, a little below full likeness. */
function covers(words: string, name: string): number {
  const asked = plainText(words).split(' ').filter(Boolean);
  const there = new Set(plainText(name).split(' '));
  // A disc's label cuts words short.
  const found = asked.filter(
    (word) => there.has(word) || (word.length >= 4 && [...there].some((other) => other.startsWith(word))),
  );
  return asked.length === 0 ? 0 : (0.95 * found.length) / asked.length;
}

function countReason(files: number, entries: number): ScoreReason {
  const most = Math.max(files, entries);
  return reason('count', most === 0 ? 0 : Math.min(files, entries) / most, [files, entries]);
}

const reason = (code: ScoreReason['code'], share: number, detail: readonly number[]): ScoreReason => ({
  code,
  most: MOST[code],
  points: Math.max(0, Math.min(1, share)) * MOST[code],
  detail,
});

/** The best pairing, and the straight one beside it if they differ by a crossing. */
export interface Offer {
  readonly best: LineUp;
  /** Null if nothing crosses in the best one. */
  readonly straight: LineUp | null;
}

/** Both line-ups of a candidate: nothing is reordered without offering the straight one too. */
export function offerLineUps(
  files: readonly LineFile[],
  entries: Parameters<typeof lineUp>[1],
  decisions?: Parameters<typeof lineUp>[2],
): Offer {
  const best = lineUp(files, entries, decisions);
  const crosses = best.pairs.some((pair) => pair.crosses && !pair.locked);
  return { best, straight: crosses ? straightLineUp(files, entries, decisions) : null };
}
