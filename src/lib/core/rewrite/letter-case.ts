/** How letters are written: as a sentence, as a title, all small, all capital. */
export const LETTER_CASES = ['sentence', 'title', 'small', 'capital'] as const;
export type LetterCase = (typeof LETTER_CASES)[number];

/** Words that stay small inside a title in English. */
const SMALL = new Set(
  'a an and as at but by for from in into nor of off on onto or over per so the to up via vs with yet'.split(
    ' ',
  ),
);
const WORD = /[\p{L}\p{N}][\p{L}\p{M}\p{N}'\u2019]*/gu;
/** What opens a part of a title of its own: a word behind it begins with a capital. */
const OPENS = /(^|[:.!?\u2013\u2014/([{"\u201c\u00ab]|\s-\s)\s*$/u;

/** A word that is written in its own way on purpose, such as `McCaw`, `dB` or `4x4`: it stays. */
const isOwn = (word: string): boolean => /\p{Ll}\p{Lu}|\p{N}/u.test(word);
/** Without a small letter in it, capitals say nothing of what was meant. */
const isShouted = (text: string): boolean => !/\p{Ll}/u.test(text) && /\p{Lu}.*\p{Lu}/u.test(text);

const small = (text: string): string => text.toLocaleLowerCase('en');
const capital = (text: string): string => {
  const [first = ''] = text;
  return first.toLocaleUpperCase('en') + text.slice(first.length);
};

/**
 * A text in another letter case. Words with capitals inside, numbers in them or capitals alone stay as they are in titles
 * and sentences, unless all of the text is in capitals.
 */
export function inLetterCase(text: string, as: LetterCase): string {
  if (as === 'small') return small(text);
  if (as === 'capital') return text.toLocaleUpperCase('en');
  const shouted = isShouted(text);
  const from = shouted ? small(text) : text;
  const stays = (word: string) => !shouted && (isOwn(word) || isShouted(word));
  const words = [...from.matchAll(WORD)];
  return from.replace(WORD, (word, at: number) => {
    if (stays(word)) return word;
    const opens = OPENS.test(from.slice(0, at));
    if (as === 'sentence') return opens ? capital(small(word)) : small(word);
    const isLast = at === words.at(-1)?.index;
    return SMALL.has(small(word)) && !opens && !isLast ? small(word) : capital(small(word));
  });
}
