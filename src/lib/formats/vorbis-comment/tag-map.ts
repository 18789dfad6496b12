import { languageOrText } from '../language';
import { withUnit, type TagMap, type TagRow } from '../tag-map';

/** The comment that holds words with their times, as lines of `[mm:ss.xxx]`. */
export const TIMED_COMMENT = 'SYNCEDLYRICS';

const ROWS: readonly TagRow[] = [
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
  { field: 'outsideNumber', names: ['OUTSIDE-NUMBER'] },
  { field: 'rating', names: ['RATING'] },
  { field: 'notes', names: ['NOTES'] },
];

/** Levels in units of a 256th of a decibel, towards 23 below the loudest: 5 less than others mean (RFC 7845, section 5.2.1). */
const OPUS_UNIT = 256;
const OPUS_LESS = 5;
const inOpusUnits = (text: string): string => String(Math.round((Number(text) - OPUS_LESS) * OPUS_UNIT));
/** What others wrote all the same has a point, or its unit. */
const fromOpusUnits = (text: string): string =>
  /^[+-]?\d+$/.test(text) ? (Number(text) / OPUS_UNIT + OPUS_LESS).toFixed(2) : text;

/** Vorbis comments, as FLAC and Ogg Vorbis hold them. Several values are entries of the same name. */
export const VORBIS_MAP: TagMap = {
  rows: [
    ...ROWS,
    { field: 'trackGain', names: ['REPLAYGAIN_TRACK_GAIN'], write: withUnit },
    { field: 'albumGain', names: ['REPLAYGAIN_ALBUM_GAIN'], write: withUnit },
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

/** The same in Opus, which says levels otherwise. */
export const OPUS_MAP: TagMap = {
  ...VORBIS_MAP,
  rows: [
    ...ROWS,
    ...(['track', 'album'] as const).map((of): TagRow => {
      const name = `${of.toUpperCase()}_GAIN`;
      return {
        field: `${of}Gain`,
        names: [`R128_${name}`, `REPLAYGAIN_${name}`],
        write: inOpusUnits,
        read: fromOpusUnits,
      };
    }),
  ],
};
