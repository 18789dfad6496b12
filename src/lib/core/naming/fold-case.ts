// eslint-disable-next-line no-control-regex
export const ASCII = /^[\u0000-\u007f]*$/;

const lower = (text: string) => {
  let out = '';
  // Letter by letter, because in a whole word a final sigma would become another letter.
  for (const letter of text) out += letter.toLowerCase();
  return out;
};

/**
 * A text with full case folding: statuses C and F of CaseFolding in the Unicode Character Database. Texts that differ
 * only in case fold to the same, also if upper case has more letters (ß, ﬁ) or there are several lower cases (ſ, ς, µ).
 * The dotless ı stays, because it equals i only in Turkic languages.
 */
export function foldCase(text: string): string {
  if (ASCII.test(text)) return text.toLowerCase();
  let out = '';
  for (const letter of text) out += letter === 'ı' ? letter : lower(letter.toLowerCase().toUpperCase());
  return out;
}
