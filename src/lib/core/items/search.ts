import type { Fields } from './fields';

/** A text as it is looked for: in lower case and without accents, since few keyboards have all of them. */
export function foldText(text: string): string {
  const lower = text.toLowerCase();
  // Most texts have none, and to take them off takes its time.
  return /[\u0080-\uffff]/.test(lower) ? lower.normalize('NFD').replace(/\p{M}/gu, '') : lower;
}

/** Everything of an item that a filter looks into, as it is looked for. */
export function searchText(fields: Fields, path: string): string {
  const { title, albumArtist, album, artist, genre, composer, show, date } = fields;
  const lists = [artist, genre, composer].map((value) => value?.join('\n'));
  return foldText([title, albumArtist, album, show, ...lists, date, path].join('\n'));
}

/** The words of a filter's text: all of them have to be found. */
export const wordsOf = (text: string): readonly string[] => foldText(text).split(/\s+/).filter(Boolean);
