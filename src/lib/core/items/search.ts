import type { Fields } from './fields';

/** Everything of an item that a filter looks into, in lower case. */
export function searchText(fields: Fields, path: string): string {
  const { title, albumArtist, album, artist, genre, composer, show, date } = fields;
  const lists = [artist, genre, composer].map((value) => value?.join('\n'));
  return [title, albumArtist, album, show, ...lists, date, path].join('\n').toLowerCase();
}

/** The words of a filter's text: all of them have to be found. */
export const wordsOf = (text: string): readonly string[] => text.toLowerCase().split(/\s+/).filter(Boolean);
