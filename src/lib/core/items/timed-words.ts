import { cleanText } from './fields';

/** A word or a part of one, with the second at which it is heard. Spaces around it are part of its text. */
export interface TimedWord {
  readonly startSeconds: number;
  readonly text: string;
}

/** A line of lyrics with the second at which it is heard. Lines are ordered by start. */
export interface TimedLine {
  readonly startSeconds: number;
  readonly text: string;
  /** Present if its words are timed too: together they are its text. */
  readonly words?: readonly TimedWord[];
}

/**
 * A line as it can be written anywhere: without line breaks, and with timed words only if they form its text and add
 * something.
 */
export function cleanLine({ startSeconds, text, words = [] }: TimedLine): TimedLine {
  const plain = oneLine(text).trim();
  const start = inMilliseconds(startSeconds);
  const timed = trimmed(
    words.map((word) => ({ startSeconds: inMilliseconds(word.startSeconds), text: oneLine(word.text) })),
  );
  const saysMore = timed.length > 1 || timed[0]?.startSeconds !== start;
  const isWhole = timed.length > 0 && timed.map((word) => word.text).join('') === plain;
  return { startSeconds: start, text: plain, ...(isWhole && saysMore && { words: timed }) };
}

/** Times of words are kept to the millisecond, as in every format. */
const inMilliseconds = (seconds: number): number => Math.max(0, Math.round(seconds * 1000)) / 1000;

const oneLine = (text: string): string => cleanText(text).replace(/[\r\n\u2028\u2029]+/g, ' ');

/** Without spaces at both ends of the line and without empty words. */
function trimmed(words: readonly TimedWord[]): readonly TimedWord[] {
  const heard = words.filter(({ text }) => text !== '');
  while (heard.length > 0 && heard[0]?.text.trim() === '') heard.shift();
  while (heard.length > 0 && heard.at(-1)?.text.trim() === '') heard.pop();
  return heard.map((word, index) => {
    const text = index === 0 ? word.text.trimStart() : word.text;
    return { ...word, text: index === heard.length - 1 ? text.trimEnd() : text };
  });
}

const sameWord = (a: TimedWord, b: TimedWord | undefined) =>
  a.startSeconds === b?.startSeconds && a.text === b.text;

export const sameTimed = (a: readonly TimedLine[], b: readonly TimedLine[]): boolean =>
  a.length === b.length &&
  a.every((line, index) => {
    const other = b[index] as TimedLine;
    const [words, others] = [line.words ?? [], other.words ?? []];
    return (
      sameWord(line, other) &&
      words.length === others.length &&
      words.every((word, at) => sameWord(word, others[at]))
    );
  });
