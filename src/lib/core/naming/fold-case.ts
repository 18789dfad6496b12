// eslint-disable-next-line no-control-regex
export const ASCII = /^[\u0000-\u007f]*$/;

const lower = (text: string) => {
  let out = '';
  // Letter by letter, since the last sigma of a word would become another one.
  for (const letter of text) out += letter.toLowerCase();
  return out;
};

/**
 * A text with letter case folded fully: statuses C and F of the Unicode Character Database's CaseFolding.
 * Texts that differ in letter case alone fold to the same, also where upper case has more letters (ß, ﬁ) or
 * several lower cases (ſ, ς, µ). Only the dotless ı stays itself: that it is an i holds for Turkic languages.
 */
export function foldCase(text: string): string {
  if (ASCII.test(text)) return text.toLowerCase();
  let out = '';
  for (const letter of text) out += letter === 'ı' ? letter : lower(letter.toLowerCase().toUpperCase());
  return out;
}
