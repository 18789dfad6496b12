import type { FieldValueRow, Oddity } from '$lib/core/browse';
import { requireField } from '$lib/core/items';

/** What odd values are called where they are counted. */
export const ODDITY_WORDS: Readonly<Record<Oddity, string>> = {
  alike: 'other spellings',
  letters: 'look-alike letters',
  otherField: 'same as another field',
  outOfRange: 'out of range',
  rare: 'rare',
};

/** Why a value is odd. */
export function oddityWords(odd: Oddity, { like, text, alsoIn }: FieldValueRow): string {
  switch (odd) {
    case 'alike':
      return `the same as ${like ?? ''} but for ${difference(text, like ?? '')}`;
    case 'letters':
      return 'mixes two alphabets in one word';
    case 'otherField':
      return `same as the ${alsoIn ? requireField(alsoIn).label : 'name'}`;
    case 'outOfRange':
      return 'out of range';
    case 'rare':
      return 'only one item has it';
  }
}

/** The least by which two texts that are alike differ. */
function difference(one: string, other: string): string {
  const [form, form2] = [one.normalize('NFC'), other.normalize('NFC')];
  if (form === form2) return 'its Unicode form';
  const single = (text: string) => text.replace(/\s+/g, ' ').trim();
  if (single(form) === single(form2)) return 'blanks';
  if (single(form).toLowerCase() === single(form2).toLowerCase()) return 'letter case';
  return accentless(form) === accentless(form2) ? 'accents' : 'letters that look alike';
}

const accentless = (text: string): string =>
  text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase().replace(/\s+/g, ' ').trim();

/** A value with its blanks drawn where they are not seen otherwise: at its ends, and where several stand together. */
export const drawn = (text: string): string =>
  text.replace(/^\s+|\s+$|\s{2,}/g, (blanks) => '\u00b7'.repeat(blanks.length));
