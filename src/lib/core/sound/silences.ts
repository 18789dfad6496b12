/** Loudness of a sound, so many times a second. */
export interface Levels {
  readonly perSecond: number;
  /** Peaks: 0 for 80 dB below full scale or less, 255 for full scale. */
  readonly peaks: Uint8Array;
}

/** Decibels from silence to the loudest, as levels count them. */
const RANGE_DB = 80;

/** A peak from 0 to 1 as a level. */
export const levelOf = (peak: number): number =>
  peak <= 0 ? 0 : Math.max(0, Math.min(255, Math.round(255 * (1 + (20 * Math.log10(peak)) / RANGE_DB))));

/** The peak of a level, from 0 to 1. */
export const peakOf = (level: number): number =>
  level === 0 ? 0 : 10 ** (((level / 255 - 1) * RANGE_DB) / 20);

/** A passage of silence. Seconds. */
export interface Silence {
  readonly startSeconds: number;
  readonly endSeconds: number;
}

/**
 * Passages of at least this many seconds below a level. The level is relative to the loudest peak, because what counts
 * as quiet depends on the recording.
 * @param belowDb decibels below the loudest peak
 */
export function silencesIn(
  { peaks, perSecond }: Levels,
  leastSeconds: number,
  belowDb = 38,
): readonly Silence[] {
  let loudest = 0;
  for (const peak of peaks) if (peak > loudest) loudest = peak;
  const quiet = loudest - (belowDb / RANGE_DB) * 255;
  const silences: Silence[] = [];
  let from = -1;
  for (let at = 0; at <= peaks.length; at++) {
    const isQuiet = at < peaks.length && (peaks[at] as number) <= Math.max(0, quiet);
    if (isQuiet && from < 0) from = at;
    if (isQuiet || from < 0) continue;
    if ((at - from) / perSecond >= leastSeconds)
      silences.push({ startSeconds: from / perSecond, endSeconds: at / perSecond });
    from = -1;
  }
  return silences;
}

/** Seconds before its end at which a chapter is proposed, so that its first sound is whole. */
const AHEAD = 0.25;

/** Proposed starts of chapters: after each silence, except at the very beginning or end. */
export const proposedStarts = (silences: readonly Silence[], durationSeconds: number): readonly Silence[] =>
  silences.filter(({ startSeconds, endSeconds }) => startSeconds > 1 && endSeconds < durationSeconds - 1);

export const startBehind = ({ startSeconds, endSeconds }: Silence): number =>
  Math.max(startSeconds, Math.round((endSeconds - AHEAD) * 1000) / 1000);

/** The highest peaks of equal stretches, as many as there is room to draw. From 0 to 1. */
export function peaksFor({ peaks }: Levels, from: number, to: number, count: number): readonly number[] {
  return Array.from({ length: count }, (_, index) => {
    const start = Math.floor(from + ((to - from) * index) / count);
    const end = Math.max(start + 1, Math.floor(from + ((to - from) * (index + 1)) / count));
    let most = 0;
    for (let at = start; at < end && at < peaks.length; at++)
      if ((peaks[at] as number) > most) most = peaks[at] as number;
    return peakOf(most);
  });
}
