import { MOST_TIMED, limitParts } from '../format';
import { cleanLine, type TimedLine, type TimedWord } from '$lib/core/items';

/*
 * Timed lyrics as text, one line each behind `[mm:ss.xx]`; a line that is sung again has several such times. Words with
 * times of their own stand behind `<mm:ss.xx>`. `[name:value]` says something of the whole, of which `offset` moves
 * every time, in milliseconds: what is positive comes sooner.
 */

const TIME = /(\d{1,4}):(\d{1,2}(?:[.:]\d{1,3})?)/;
const LINE = new RegExp(`^\\s*((?:\\[${TIME.source}\\]\\s*)+)(.*)$`, 's');
const LINE_TIME = new RegExp(`\\[${TIME.source}\\]`, 'g');
const WORD_TIME = new RegExp(`<${TIME.source}>`, 'g');
const OFFSET = /^\s*\[offset:\s*([+-]?\d+)\s*\]\s*$/im;

/**
 * The lines of a text, in their order; null where no line of it has a time.
 * @throws {FormatError} `tooMuch` with more than any real song or book has
 */
export function readLrc(text: string): readonly TimedLine[] | null {
  const sooner = Number(OFFSET.exec(text)?.[1] ?? 0);
  const lines: TimedLine[] = [];
  let count = 0;
  for (const row of text.split(/\r\n|\r|\n/)) {
    const [, times, , , rest = ''] = LINE.exec(row) ?? [];
    if (times === undefined) continue;
    const starts = [...times.matchAll(LINE_TIME)].map((time) => secondsOf(time, sooner));
    const [first = 0] = starts;
    for (const startSeconds of starts) {
      const line = lineOf(rest, startSeconds, startSeconds - first, sooner);
      limitParts((count += 1 + (line.words?.length ?? 0)), 'timed words', MOST_TIMED);
      lines.push(line);
    }
  }
  return lines.length === 0 ? null : lines.sort((a, b) => a.startSeconds - b.startSeconds);
}

function secondsOf([, minutes, seconds = '']: RegExpExecArray | RegExpMatchArray, sooner: number): number {
  const milliseconds = Number(minutes) * 60_000 + Math.round(Number(seconds.replace(':', '.')) * 1000);
  return Math.max(0, milliseconds - sooner) / 1000;
}

/** @param later seconds by which a line that is sung again comes after the times of its words */
function lineOf(rest: string, startSeconds: number, later: number, sooner: number): TimedLine {
  const marks = [...rest.matchAll(WORD_TIME)];
  const [first] = marks;
  if (!first) return cleanLine({ startSeconds, text: rest.trim() });
  const before = rest.slice(0, first.index);
  const words = marks.map((mark, index): TimedWord => {
    const text = rest.slice(mark.index + mark[0].length, marks[index + 1]?.index ?? rest.length);
    return { startSeconds: secondsOf(mark, sooner) + later, text };
  });
  const all = before.trim() === '' ? words : [{ startSeconds, text: before }, ...words];
  const single = withSingleBlanks(all);
  return cleanLine({ startSeconds, text: single.map(({ text }) => text).join(''), words: single });
}

/** `<t> When <t> the`: many files set blanks on both sides of a time, and mean one. */
const withSingleBlanks = (words: readonly TimedWord[]): readonly TimedWord[] =>
  words.map((word, index) =>
    / $/.test(words[index - 1]?.text ?? '') ? { ...word, text: word.text.trimStart() } : word,
  );

/** The text of these lines. Times are to the millisecond. */
export function writeLrc(lines: readonly TimedLine[]): string {
  return lines
    .map(({ startSeconds, text, words }) => {
      const timed = words?.map((word) => `<${timeText(word.startSeconds)}>${word.text}`).join('');
      return `[${timeText(startSeconds)}]${timed ?? text}`;
    })
    .join('\n');
}

function timeText(seconds: number): string {
  const all = Math.round(seconds * 1000);
  const part = (value: number, width: number) => String(Math.floor(value)).padStart(width, '0');
  return `${part(all / 60_000, 2)}:${part((all / 1000) % 60, 2)}.${part(all % 1000, 3)}`;
}
