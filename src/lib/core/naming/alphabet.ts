import transliterate from '@sindresorhus/transliterate';
import { ASCII } from './fold-case';
import { lettersOf } from './letters';

/** Letters that a player can show or read: any, those of ISO 8859-1, or those of ASCII. */
export const ALPHABETS = ['any', 'latin1', 'ascii'] as const;
export type Alphabet = (typeof ALPHABETS)[number];

const HOLDS: Readonly<Record<Exclude<Alphabet, 'any'>, RegExp>> = {
  // eslint-disable-next-line no-control-regex
  latin1: /^[\u0000-\u007f\u00a0-\u00ff]*$/,
  ascii: ASCII,
};

/** Whether a text has only letters of an alphabet. */
export const isOf = (text: string, alphabet: Alphabet): boolean =>
  alphabet === 'any' || HOLDS[alphabet].test(text);

/**
 * A text in the letters of an alphabet: other letters are transliterated, without accents.
 * @param fallback replaces a letter without a usual transliteration
 */
export function toAlphabet(text: string, alphabet: Alphabet, fallback: string): string {
  if (alphabet === 'any' || isOf(text, alphabet)) return text;
  let out = '';
  for (const letter of lettersOf(text.normalize('NFC'))) {
    if (isOf(letter, alphabet)) out += letter;
    else if (/^\s+$/u.test(letter)) out += ' ';
    // Directional marks and other invisible letters.
    else if (!/^\p{C}+$/u.test(letter)) out += spelled(letter, alphabet) || fallback;
  }
  return out;
}

const FRACTION_SLASH = '\u2044';

function spelled(letter: string, alphabet: Exclude<Alphabet, 'any'>): string {
  const known = letter.normalize('NFKC').replaceAll(FRACTION_SLASH, '/');
  const plain = transliterate(known).normalize('NFKD').replace(/\p{M}/gu, '');
  return isOf(plain, alphabet) ? plain : '';
}
