const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** The letters of a text as a reader counts them, each with its marks (Unicode Standard Annex 29, grapheme clusters). */
export function* lettersOf(text: string): Generator<string> {
  for (const { segment } of segmenter.segment(text)) yield segment;
}

/** The first letters of a text, each with its marks. */
export function firstLetters(text: string, count: number): string {
  if (text.length <= count) return text;
  let out = '';
  let left = count;
  for (const letter of lettersOf(text)) {
    if (left-- === 0) break;
    out += letter;
  }
  return out;
}
