import { languageOrText } from '../language';
import type { TagMap } from '../tag-map';

/** The comment that holds words with their times, as lines of `[mm:ss.xxx]`. */
export const TIMED_COMMENT = 'SYNCEDLYRICS';

/** Vorbis comments, as FLAC, Ogg Vorbis and Opus hold them. Several values are entries of the same name. */
export const VORBIS_MAP: TagMap = {
  rows: [
    { field: 'title', names: ['TITLE'] },
    { field: 'album', names: ['ALBUM'] },
    { field: 'albumArtist', names: ['ALBUMARTIST', 'ALBUM ARTIST', 'ALBUM_ARTIST'] },
    { field: 'date', names: ['DATE', 'YEAR'], precise: ['RELEASEDATE'] },
    { field: 'track', of: 'tracks', names: ['TRACKNUMBER'], totals: ['TRACKTOTAL', 'TOTALTRACKS'] },
    { field: 'disc', of: 'discs', names: ['DISCNUMBER'], totals: ['DISCTOTAL', 'TOTALDISCS'] },
    { field: 'compilation', names: ['COMPILATION'] },
    { field: 'show', names: ['SHOW'] },
    { field: 'season', names: ['SEASON'] },
    { field: 'episode', names: ['EPISODE'] },
    { field: 'artist', names: ['ARTIST'] },
    { field: 'composer', names: ['COMPOSER'] },
    { field: 'genre', names: ['GENRE'] },
    { field: 'narrator', names: ['NARRATOR'] },
    { field: 'description', names: ['DESCRIPTION'] },
    { field: 'lyrics', names: ['LYRICS', 'UNSYNCEDLYRICS'] },
    { field: 'comment', names: ['COMMENT'] },
    { field: 'titleSort', names: ['TITLESORT'] },
    { field: 'artistSort', names: ['ARTISTSORT'] },
    { field: 'albumSort', names: ['ALBUMSORT'] },
    { field: 'albumArtistSort', names: ['ALBUMARTISTSORT'] },
    { field: 'language', names: ['LANGUAGE'], read: languageOrText },
    { field: 'series', names: ['SERIES'] },
    { field: 'part', names: ['SERIES-PART'] },
    { field: 'edition', names: ['EDITION'] },
    { field: 'rating', names: ['RATING'] },
    { field: 'notes', names: ['NOTES'] },
  ],
  pictures: null,
  // CHAPTER001, CHAPTER001NAME, CHAPTER001URL: three digits, and no ends.
  chapters: { most: 999, titleBytes: Infinity, links: true, ends: false, pictureBytes: 0 },
  timed: true,
  tracks: null,
  // There is no comment that programs agree on.
  kinds: [],
  marks: () => [],
};
