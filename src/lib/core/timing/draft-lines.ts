import { cleanLine, type TimedLine, type TimedWord } from '../items';

/** A line of words while it is being timed: it may have no time yet. */
export interface DraftLine {
  /** Null until it was heard. */
  readonly startSeconds: number | null;
  readonly text: string;
  readonly words?: readonly TimedWord[];
}

/**
 * The lines that have times, with the lines of the plain words between them that have none yet. Empty ones between
 * verses are no lines.
 */
export function draftOf(timed: readonly TimedLine[], lyrics: string | null): readonly DraftLine[] {
  const plain = untimed(lyrics ?? '');
  const left = new Map<string, number>();
  for (const { text } of plain) left.set(text, (left.get(text) ?? 0) + 1);
  const lines: DraftLine[] = [];
  let at = 0;
  for (const line of plain) {
    // A timed line that the words do not come to any more is none of theirs.
    for (let next = timed[at]; next && !left.get(next.text); next = timed[++at]) lines.push(next);
    const next = timed[at];
    left.set(line.text, (left.get(line.text) ?? 1) - 1);
    if (next?.text !== line.text) lines.push(line);
    else {
      lines.push(next);
      at++;
    }
  }
  return [...lines, ...timed.slice(at)];
}

/** The plain words once a line of them is worded otherwise; the same where they have no such line. */
export function rewordedLyrics(lyrics: string | null, before: string, after: string): string | null {
  const rows = (lyrics ?? '').split('\n');
  const at = rows.findIndex((row) => row.trim() === before);
  if (lyrics === null || at < 0) return lyrics;
  return [...rows.slice(0, at), after, ...rows.slice(at + 1)].join('\n');
}

export const untimed = (text: string): readonly DraftLine[] =>
  text
    .split(/\r\n|\r|\n/)
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((line) => ({ startSeconds: null, text: line }));

/** The place of the line that is heard next: the first one without a time; -1 when all have one. */
export const nextToMark = (lines: readonly DraftLine[]): number =>
  lines.findIndex(({ startSeconds }) => startSeconds === null);

/** The lines with a time for one of them. Its words move with it. */
export function markAt(
  lines: readonly DraftLine[],
  index: number,
  startSeconds: number | null,
): readonly DraftLine[] {
  return lines.map((line, at) => (at === index ? moved(line, startSeconds) : line));
}

function moved({ words, ...line }: DraftLine, startSeconds: number | null): DraftLine {
  const by = startSeconds === null || line.startSeconds === null ? null : startSeconds - line.startSeconds;
  const own = by === null ? undefined : words?.map((word) => later(word, by));
  return { ...line, startSeconds, ...(own && { words: own }) };
}

const later = <T extends { readonly startSeconds: number }>(one: T, by: number): T => ({
  ...one,
  startSeconds: inMilliseconds(one.startSeconds + by),
});

const inMilliseconds = (seconds: number): number => Math.max(0, Math.round(seconds * 1000)) / 1000;

/** All lines so many seconds later, or sooner; none before the beginning. */
export const shifted = (lines: readonly DraftLine[], by: number): readonly DraftLine[] =>
  lines.map((line) =>
    line.startSeconds === null ? line : moved(line, inMilliseconds(line.startSeconds + by)),
  );

/** A line with another text: times of words that it no longer has go. */
export function reworded(line: DraftLine, text: string): DraftLine {
  const { words: _, ...rest } = line;
  return text === line.text ? line : { ...rest, text };
}

/** The lines that have a time, in the order of their times. */
export const timedIn = (lines: readonly DraftLine[]): readonly TimedLine[] =>
  lines
    .flatMap((line) =>
      line.startSeconds === null ? [] : [cleanLine({ ...line, startSeconds: line.startSeconds })],
    )
    .sort((a, b) => a.startSeconds - b.startSeconds);

/** What is odd about a line: it comes before the one above it, or behind the end. */
export type LineOddity = 'order' | 'pastEnd';

export function lineOddity(
  lines: readonly DraftLine[],
  index: number,
  durationSeconds: number | null,
): LineOddity | null {
  const own = lines[index]?.startSeconds ?? null;
  if (own === null) return null;
  if (durationSeconds !== null && own >= durationSeconds) return 'pastEnd';
  // Nothing is copied for it: each row that is shown asks.
  for (let at = index - 1; at >= 0; at--) {
    const before = lines[at]?.startSeconds ?? null;
    if (before !== null) return before > own ? 'order' : null;
  }
  return null;
}

/** Letters, words and lines of a text, as people count them. */
export function textCounts(text: string): { letters: number; words: number; lines: number } {
  return {
    letters: text.match(/[^\p{M}\r\n]/gu)?.length ?? 0,
    words: text.match(/[\p{L}\p{N}][\p{L}\p{N}\p{M}'\u2019-]*/gu)?.length ?? 0,
    lines: text === '' ? 0 : text.split(/\r\n|\r|\n/).length,
  };
}
