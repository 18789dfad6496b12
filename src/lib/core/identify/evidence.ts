import { SAME_SOUND } from '../sound';
import { holdsLikeness, likeness } from './likeness';
import type { ReferenceEntry } from './reference';

/** A file as a line-up sees it. */
export interface LineFile {
  readonly id: string;
  /** The file's name without folders and ending. */
  readonly stem: string;
  readonly title: string | null;
  readonly number: number | null;
  readonly disc: number | null;
  readonly lengthSeconds: number | null;
  /** Entries that its fingerprint was found at, with the share of differing bits (0 to 1). */
  readonly heard: Readonly<Record<string, number>> | null;
}

/** What speaks for or against one pair. `measure` is seconds off, likeness 0 to 1, numbers apart, or share of differing bits. */
export interface PairEvidence {
  readonly code: 'length' | 'title' | 'number' | 'sound';
  readonly points: number;
  readonly measure: number;
}

/** How far the files' numbers may be believed, and what must be added to them to meet the entries' numbers. */
export interface NumberTrust {
  readonly offset: number;
  /** 0 to 1. */
  readonly trust: number;
}

/** Lengths that are off by less than this share of the entry are not held against a pair in full. */
const NEAR_SHARE = 0.06;

/**
 * Points of a length, by the seconds that it is off. Discs and encoders differ by a second or two; a file that
 * lost its end is shorter, and one that is far too long is another thing.
 */
function lengthPoints(file: number, entry: number): number {
  const off = Math.abs(file - entry);
  if (off <= 1) return 30;
  if (off <= 2.5) return 25;
  if (off <= 5) return 18;
  if (off <= 10) return 8;
  if (off <= 20) return 0;
  if (off <= 61) return -8;
  if (off <= entry * NEAR_SHARE) return -12;
  return file < entry ? -20 : -34;
}

const TITLE_STEPS: readonly (readonly [number, number])[] = [
  [0.9, 42],
  [0.78, 32],
  [0.62, 18],
  [0.5, 6],
];
const OTHER_TITLE = -14;

/** The likeness of a file's title or name to an entry's title; null if the file has neither. */
function titleLikeness(file: LineFile, entry: Pick<ReferenceEntry, 'title'>): number | null {
  if (file.title === null || entry.title === '') return null;
  return Math.max(likeness(file.title, entry.title), holdsLikeness(file.title, entry.title));
}

function titlePoints(alike: number): number {
  return TITLE_STEPS.find(([least]) => alike >= least)?.[1] ?? OTHER_TITLE;
}

const SAME_NUMBER = 16;
const OTHER_NUMBER = -10;
/** Numbers that several others vouch for, none against, carry a pair alone. */
const PROVEN_NUMBER = 26;

/** Numbers agree if disc and position do; an unknown disc agrees with any. */
function numbersApart(file: LineFile, entry: ReferenceEntry, offset: number): number | null {
  if (file.number === null) return null;
  if (file.disc !== null && entry.disc !== null && file.disc !== entry.disc) return 1000;
  return Math.abs(file.number + offset - entry.number);
}

function pointsOfNumber(apart: number, { trust }: NumberTrust): number {
  if (apart !== 0) return trust * OTHER_NUMBER;
  return trust === 1 ? PROVEN_NUMBER : trust * SAME_NUMBER;
}

/** What the numbers alone say of a pair. */
export function numberPoints(file: LineFile, entry: ReferenceEntry, numbers: NumberTrust): number {
  const apart = numbers.trust > 0 ? numbersApart(file, entry, numbers.offset) : null;
  return apart === null ? 0 : pointsOfNumber(apart, numbers);
}

const soundPoints = (distance: number) => (distance <= SAME_SOUND ? 70 : distance <= 0.3 ? 30 : -40);

/** Everything that speaks for or against a pair. */
export function weighPair(
  file: LineFile,
  entry: ReferenceEntry,
  numbers: NumberTrust,
): readonly PairEvidence[] {
  const evidence: PairEvidence[] = [];
  if (file.lengthSeconds !== null && entry.lengthSeconds !== null)
    evidence.push({
      code: 'length',
      points: lengthPoints(file.lengthSeconds, entry.lengthSeconds),
      measure: file.lengthSeconds - entry.lengthSeconds,
    });
  const alike = titleLikeness(file, entry);
  if (alike !== null) evidence.push({ code: 'title', points: titlePoints(alike), measure: alike });
  const apart = numbers.trust > 0 ? numbersApart(file, entry, numbers.offset) : null;
  if (apart !== null)
    evidence.push({ code: 'number', points: pointsOfNumber(apart, numbers), measure: apart });
  const distance = file.heard?.[entry.id];
  if (distance !== undefined)
    evidence.push({ code: 'sound', points: soundPoints(distance), measure: distance });
  return evidence;
}

/** The same as the sum of `weighPair` without numbers, without the evidence itself: it is asked for every pair. */
export function plainPoints(file: LineFile, entry: ReferenceEntry): number {
  let points = 0;
  if (file.lengthSeconds !== null && entry.lengthSeconds !== null)
    points += lengthPoints(file.lengthSeconds, entry.lengthSeconds);
  const alike = titleLikeness(file, entry);
  if (alike !== null) points += titlePoints(alike);
  const distance = file.heard?.[entry.id];
  return distance === undefined ? points : points + soundPoints(distance);
}

export const NO_NUMBERS: NumberTrust = { offset: 0, trust: 0 };

/** Points of a pair in all. */
export const sumPoints = (evidence: readonly PairEvidence[]): number =>
  evidence.reduce((sum, { points }) => sum + points, 0);
