import type { FieldName } from '$lib/core/items';

/** Items of the metadata item list that hold one text or several. `\u00a9` is the byte A9. */
export const TEXT_ITEMS: Readonly<Partial<Record<FieldName, string>>> = {
  title: '\u00a9nam',
  artist: '\u00a9ART',
  albumArtist: 'aART',
  album: '\u00a9alb',
  year: '\u00a9day',
  genre: '\u00a9gen',
  composer: '\u00a9wrt',
  show: 'tvsh',
  description: 'desc',
  lyrics: '\u00a9lyr',
};
/** Items that hold one 32-bit number. */
export const NUMBER_ITEMS: Readonly<Partial<Record<FieldName, string>>> = { season: 'tvsn', episode: 'tves' };
/** Fields without an item of their own: a freeform item (`----`) with a domain and a name. */
export const NAMED_ITEMS: Readonly<Partial<Record<FieldName, string>>> = {
  narrator: 'NARRATOR',
  date: 'RELEASEDATE',
};
/** The domain of named items that we write; those of any domain are read and replaced, by their names. */
export const NAMED_DOMAIN = 'org.lectorum';
export const TRACK_ITEM = 'trkn';
export const DISC_ITEM = 'disk';
export const COMPILATION_ITEM = 'cpil';
export const COVER_ITEM = 'covr';
/** Genre by number; a written genre takes its place. */
export const GENRE_NUMBER_ITEM = 'gnre';

/** Type codes of a `data` box. */
export const DATA = { reserved: 0, utf8: 1, jpeg: 13, png: 14, integer: 21 } as const;
