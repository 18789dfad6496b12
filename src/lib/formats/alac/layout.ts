/*
 * Apple Lossless, as its published reference describes it (ALACMagicCookieDescription.txt, and the reference decoder).
 * A packet is a row of elements, each for one channel or two, and an end.
 */

/** Samples of each channel in a packet, but for the last. */
export const FRAME_SAMPLES = 4096;

/** What a decoder has to know of a stream: the "magic cookie". */
export interface AlacConfig {
  readonly frameSamples: number;
  readonly bits: number;
  readonly channels: number;
  /** Hertz. */
  readonly sampleRate: number;
  /** How the adaptive coder of residuals begins and moves: its mean, its history, and the most bits of its remainders. */
  readonly mean: number;
  readonly history: number;
  readonly mostBits: number;
}

export const DEFAULTS = { frameSamples: FRAME_SAMPLES, mean: 10, history: 40, mostBits: 14 } as const;

/** Elements of a packet. */
export const ELEMENT = { single: 0, pair: 1, end: 7 } as const;

/** Scale of means in the coder of residuals, as a power of two. */
export const MEAN_SHIFT = 9;
/** Ones before the remainder of a residual that stand for one that is written as it is. */
export const ESCAPE_PREFIX = 9;
/** Bits of a run of zeros that is written as it is. */
export const RUN_BITS = 16;
/** A mean as it is taken once a residual was larger than it can follow. */
export const MOST_MEAN = 0xffff;

/** Bits of a number's remainder, by the mean of what came before. */
export const remainderBits = (mean: number, most: number): number =>
  Math.min(most, 31 - Math.clz32((mean >>> MEAN_SHIFT) + 3));

/** Bits of the remainder of a run of zeros. */
export const runBits = (mean: number): number => Math.clz32(mean) - 24 + ((mean + 16) >> 6);
/** Below this mean, a run of zeros may follow. */
export const isQuiet = (mean: number): boolean => mean * 4 < 1 << MEAN_SHIFT;

/** Denominator of coefficients, as a power of two. */
export const COEFFICIENT_SHIFT = 9;

/** Bytes of samples that are written as they are, below what is predicted. */
export const bytesShifted = (bits: number): number => (bits >= 32 ? 2 : bits >= 24 ? 1 : 0);
