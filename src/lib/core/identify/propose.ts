import { SAME_SOUND } from '../sound';
import { offerLineUps, rankCandidates, type Candidate } from './candidates';
import type { LineFile, PairEvidence } from './evidence';
import { NO_DECISIONS, lineUp, type LineUp, type Pair } from './line-up';
import { entriesInOrder, type ReferenceRelease } from './reference';

/** One release that some files of a set belong to. */
export interface ProposedPart {
  readonly candidate: Candidate;
  readonly pairs: readonly Pair[];
}

/** What could be accepted for a set without looking at it closely. */
export interface Proposal {
  /** The releases, the largest first. Usually one; loose files may belong to several. */
  readonly parts: readonly ProposedPart[];
  /** Files that stay unmatched. */
  readonly open: readonly string[];
  /** Why it is not sure; null if it is. */
  readonly doubt: Doubt | null;
}

/**
 * Why a match is not sure: a low score, another release that fits as well, a change of order for which neither sound
 * nor titles speak, or pairs that are not sure.
 */
export type Doubt = 'score' | 'rival' | 'order' | 'pairs';

/** Score from which a match may be sure. */
const SURE_SCORE = 70;
/** Lead over the next release that a sure match needs, in points of the score and tenths of points of the line-up. */
const SURE_LEAD = 5;
/** Likeness of titles, and seconds of difference in length, at which a pair is firm. */
const FIRM = { title: 0.9, seconds: 2.5 };

/**
 * Proposes a match for the files of a set: one release for all if it is sure, otherwise several releases for those
 * files that sound or titles assign beyond doubt, otherwise the best candidate with its doubt. Null if nothing fits.
 * Takes a line-up for each release and for each part.
 * @param words what the set is called
 * @param whole a file that contains all others, which is no entry itself
 */
export function propose(
  files: readonly LineFile[],
  words: string,
  releases: readonly ReferenceRelease[],
  whole: string | null,
): Proposal | null {
  const single = files.filter(({ id }) => id !== whole);
  const candidates = rankCandidates(single, words, releases);
  const [best] = candidates;
  if (!best) return null;
  const { best: lined } = offerLineUps(single, entriesInOrder(best.release, best.order));
  const open = [...lined.openFiles, ...(whole === null ? [] : [whole])];
  const parts = [{ candidate: best, pairs: lined.pairs }];
  const doubt = doubtOf(single, candidates, lined);
  if (doubt === null) return { parts, open, doubt };
  const spread = spreadOver(single, words, releases);
  if (spread.length > 0 && doubt !== 'rival') {
    const matched = new Set(spread.flatMap(({ pairs }) => pairs.map(({ file }) => file)));
    return { parts: spread, open: files.map(({ id }) => id).filter((id) => !matched.has(id)), doubt: null };
  }
  return lined.pairs.length === 0 ? null : { parts, open, doubt };
}

function doubtOf(files: readonly LineFile[], candidates: readonly Candidate[], lined: LineUp): Doubt | null {
  const [best, ...others] = candidates as [Candidate, ...Candidate[]];
  if (lined.openFiles.length > 0 || lined.pairs.some(({ certainty }) => certainty !== 'sure')) return 'pairs';
  if (lined.pairs.some((pair) => pair.crosses && !isFirm(pair))) return 'order';
  if (best.score < SURE_SCORE && !lined.pairs.every(isFirm)) return 'score';
  const isRival = others.some((other) => {
    if (other.release.id === best.release.id && isSameOrder(other, best)) return false;
    if (other.score < best.score - 2 * SURE_LEAD) return false;
    const { points } = lineUp(files, entriesInOrder(other.release, other.order), NO_DECISIONS, false);
    return best.score - other.score + (lined.points - points) / 10 < SURE_LEAD;
  });
  return isRival ? 'rival' : null;
}

/** Whether two orders of a release give all entries the same numbers. */
function isSameOrder(a: Candidate, b: Candidate): boolean {
  const numbers = ({ release, order }: Candidate) =>
    entriesInOrder(release, order).map(({ id, number: place }) => `${id} ${place}`);
  return numbers(a).join('\n') === numbers(b).join('\n');
}

const measureOf = ({ evidence }: Pair, code: PairEvidence['code']): number | null =>
  evidence.find((one) => one.code === code)?.measure ?? null;

/** Whether the same sound, or the same title and length, tell that a pair is right, whatever is beside it. */
function isFirm(pair: Pair): boolean {
  const sound = measureOf(pair, 'sound');
  if (sound !== null) return sound <= SAME_SOUND;
  const [title, length] = [measureOf(pair, 'title'), measureOf(pair, 'length')];
  return title !== null && title >= FIRM.title && length !== null && Math.abs(length) <= FIRM.seconds;
}

/**
 * Distributes files over releases: each time the release with the most firm pairs gets them, until no release has
 * two, or one by sound.
 */
function spreadOver(
  files: readonly LineFile[],
  words: string,
  releases: readonly ReferenceRelease[],
): ProposedPart[] {
  const parts: ProposedPart[] = [];
  let left = files;
  let offered = releases;
  while (left.length > 0 && offered.length > 0) {
    const own = left;
    const found = rankCandidates(own, words, offered, 0)
      .map((candidate) => {
        const lined = lineUp(own, entriesInOrder(candidate.release, candidate.order), NO_DECISIONS, true);
        return { candidate, pairs: lined.pairs.filter((pair) => pair.certainty === 'sure' && isFirm(pair)) };
      })
      .filter(({ pairs }) => pairs.length > 1 || pairs.some((pair) => measureOf(pair, 'sound') !== null))
      .sort((a, b) => b.pairs.length - a.pairs.length || sumOf(b.pairs) - sumOf(a.pairs));
    const [most, next] = found;
    if (!most || (next && isTie(most, next))) break;
    parts.push(most);
    const matched = new Set(most.pairs.map(({ file }) => file));
    left = left.filter(({ id }) => !matched.has(id));
    offered = offered.filter(({ id }) => id !== most.candidate.release.id);
  }
  return parts;
}

/** Whether another release fits the same files as well, so that nobody can tell which one they are from. */
const isTie = (most: ProposedPart, next: ProposedPart): boolean =>
  next.candidate.release.id !== most.candidate.release.id &&
  next.pairs.length === most.pairs.length &&
  next.pairs.some(({ file }) => most.pairs.some((pair) => pair.file === file)) &&
  sumOf(next.pairs) > sumOf(most.pairs) * 0.95;

const sumOf = (pairs: readonly Pair[]): number => pairs.reduce((sum, { points }) => sum + points, 0);
