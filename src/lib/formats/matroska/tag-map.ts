import { TRACK_FLAGS } from '$lib/core/items';
import { languageOrText } from '../language';
import type { Kind } from '$lib/core/kinds';
import { withUnit, type TagMap, type TagRow } from '../tag-map';

/** Names at the level of a track, then at that of an album (RFC 9559, section 5.1.8: targets of 30 and 50). */
const either = (...names: string[]): string[] =>
  [30, 50].flatMap((target) => names.map((name) => `${target}:${name}`));

const ROWS: readonly TagRow[] = [
  // The segment's own title stands for one that no tag gives; both are written.
  { field: 'title', names: ['30:TITLE', 'segment:TITLE'] },
  { field: 'album', names: either('ALBUM') },
  { field: 'albumArtist', names: either('ALBUM_ARTIST', 'ALBUMARTIST') },
  { field: 'date', names: either('DATE_RELEASED', 'DATE_RECORDED', 'DATE', 'YEAR') },
  {
    field: 'track',
    of: 'tracks',
    names: ['30:PART_NUMBER', ...either('TRACK', 'TRACKNUMBER')],
    totals: ['50:TOTAL_PARTS', ...either('TRACKTOTAL', 'TOTALTRACKS')],
  },
  {
    field: 'disc',
    of: 'discs',
    names: either('DISC', 'DISCNUMBER'),
    totals: either('DISCTOTAL', 'TOTALDISCS'),
  },
  { field: 'compilation', names: either('COMPILATION') },
  { field: 'show', names: either('SHOW') },
  { field: 'season', names: either('SEASON', 'SEASON_NUMBER') },
  { field: 'episode', names: either('EPISODE', 'EPISODE_SORT') },
  { field: 'artist', names: either('ARTIST', 'LEAD_PERFORMER') },
  { field: 'composer', names: either('COMPOSER') },
  { field: 'genre', names: either('GENRE') },
  { field: 'narrator', names: either('NARRATOR') },
  { field: 'description', names: either('DESCRIPTION', 'SUMMARY', 'SYNOPSIS') },
  { field: 'lyrics', names: either('LYRICS') },
  { field: 'comment', names: either('COMMENT') },
  { field: 'titleSort', names: either('TITLESORT') },
  { field: 'artistSort', names: either('ARTISTSORT') },
  { field: 'albumSort', names: either('ALBUMSORT') },
  { field: 'albumArtistSort', names: either('ALBUMARTISTSORT') },
  { field: 'language', names: either('LANGUAGE'), read: languageOrText },
  { field: 'series', names: either('SERIES') },
  { field: 'part', names: either('SERIES-PART') },
  { field: 'edition', names: either('EDITION') },
  { field: 'outsideNumber', names: either('OUTSIDE-NUMBER') },
  {
    field: 'rating',
    names: either('RATING'),
    // Of five, with decimals; some programs count to a hundred.
    write: (text) => String(Number(text) / 20),
    read: (text) => String(Math.round(Number(text) <= 5 ? Number(text) * 20 : Number(text))),
  },
  { field: 'notes', names: either('NOTES') },
  // The target says whether it is of the track or of the album.
  { field: 'trackGain', names: ['30:REPLAYGAIN_GAIN'], write: withUnit },
  { field: 'albumGain', names: ['50:REPLAYGAIN_GAIN'], write: withUnit },
];

/** What a file is, in words (the list of Matroska's tags, `CONTENT_TYPE`). */
const CONTENT_TYPE = either('CONTENT_TYPE');
const CONTENT_TYPES: Readonly<Partial<Record<Kind, string>>> = {
  musicVideo: 'Music Video',
  film: 'Feature Film',
  episode: 'TV Show',
  audiobook: 'Audiobook',
  podcast: 'Podcast',
};

/** Tags of Matroska by target and name. Of pictures it names the cover alone; chapters have no links. */
export const MATROSKA_MAP: TagMap = {
  rows: ROWS,
  pictures: ['front'],
  chapters: { most: 4000, titleBytes: Infinity, links: false, ends: true, pictureBytes: 0 },
  timed: false,
  tracks: TRACK_FLAGS,
  kinds: Object.keys(CONTENT_TYPES) as Kind[],
  marks: (kind, _said, texts) => {
    const own = CONTENT_TYPES[kind];
    const there = CONTENT_TYPE.map((name) => texts.get(name)?.[0]).find((text) => text !== undefined);
    const isOther = Object.values(CONTENT_TYPES).some((type) => type === there);
    if (own === undefined && !isOther) return [];
    return [{ name: CONTENT_TYPE[0] ?? '', goes: CONTENT_TYPE, texts: own === undefined ? [] : [own] }];
  },
};
/** WebM is Matroska without attachments. */
export const WEBM_MAP: TagMap = { ...MATROSKA_MAP, pictures: [] };
