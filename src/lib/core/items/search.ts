import type { Fields } from './fields';

/** A text as it is searched: lower case, without accents, since few keyboards have all of them. */
export function foldText(text: string): string {
  const lower = text.toLowerCase();
  // Most texts have no accents, and removing them is slow.
  return /[\u0080-\uffff]/.test(lower) ? lower.normalize('NFD').replace(/\p{M}/gu, '') : lower;
}

/** The text of an item that a filter searches. */
export function searchText(fields: Fields, path: string): string {
  const { title, albumArtist, album, artist, genre, composer, show, date } = fields;
  const lists = [artist, genre, composer].map((value) => value?.join('\n'));
  return foldText([title, albumArtist, album, show, ...lists, date, path].join('\n'));
}

/** The words of a filter, all of which have to be found. */
export const wordsOf = (text: string): readonly string[] => foldText(text).split(/\s+/).filter(Boolean);
