import transliterate from '@sindresorhus/transliterate';

/** Letters that a player can show or read: of any writing, those of ISO 8859-1, or those of ASCII. */
export const ALPHABETS = ['any', 'latin1', 'ascii'] as const;
export type Alphabet = (typeof ALPHABETS)[number];

const HOLDS: Readonly<Record<Exclude<Alphabet, 'any'>, RegExp>> = {
  // eslint-disable-next-line no-control-regex
  latin1: /^[\u0000-\u007f\u00a0-\u00ff]*$/,
  // eslint-disable-next-line no-control-regex
  ascii: /^[\u0000-\u007f]*$/,
};

const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** Whether a text is of these letters alone. */
export const isOf = (text: string, alphabet: Alphabet): boolean =>
  alphabet === 'any' || HOLDS[alphabet].test(text);

/**
 * A text in letters of an alphabet: what it does not hold is written by how it is usually spelled there, without marks.
 * @param fallback stands for a letter that has no usual spelling
 */
export function toAlphabet(text: string, alphabet: Alphabet, fallback: string): string {
  if (alphabet === 'any' || isOf(text, alphabet)) return text;
  let out = '';
  for (const { segment } of segmenter.segment(text.normalize('NFC'))) {
    if (isOf(segment, alphabet)) out += segment;
    else if (/^\s+$/u.test(segment)) out += ' ';
    // Marks of the writing direction and other letters that nobody sees.
    else if (!/^\p{C}+$/u.test(segment)) out += spelled(segment, alphabet) || fallback;
  }
  return out;
}

const FRACTION_SLASH = '\u2044';

function spelled(segment: string, alphabet: Exclude<Alphabet, 'any'>): string {
  const known = segment.normalize('NFKC').replaceAll(FRACTION_SLASH, '/');
  const plain = transliterate(known).normalize('NFKD').replace(/\p{M}/gu, '');
  return isOf(plain, alphabet) ? plain : '';
}
