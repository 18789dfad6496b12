import type { TagMap, TagRow } from '../tag-map';

/** Names at the level of a track, then at that of an album (RFC 9559, section 5.1.8: targets of 30 and 50). */
const either = (...names: string[]): string[] =>
  [30, 50].flatMap((target) => names.map((name) => `${target}:${name}`));

const ROWS: readonly TagRow[] = [
  // The segment's own title stands for one that no tag gives.
  { field: 'title', names: ['30:TITLE', 'segment:TITLE'] },
  { field: 'album', names: either('ALBUM') },
  { field: 'albumArtist', names: either('ALBUM_ARTIST', 'ALBUMARTIST') },
  { field: 'date', names: either('DATE_RELEASED', 'DATE_RECORDED', 'DATE', 'YEAR') },
  { field: 'track', names: ['30:PART_NUMBER', ...either('TRACK', 'TRACKNUMBER')] },
  { field: 'artist', names: either('ARTIST', 'LEAD_PERFORMER') },
  { field: 'composer', names: either('COMPOSER') },
  { field: 'genre', names: either('GENRE') },
  { field: 'description', names: either('DESCRIPTION', 'SUMMARY', 'SYNOPSIS') },
  { field: 'lyrics', names: either('LYRICS') },
  { field: 'comment', names: either('COMMENT') },
  { field: 'rating', names: either('RATING') },
];

/** Tags of Matroska and WebM by target and name. They are read, and not written yet. */
export const MATROSKA_MAP: TagMap = { rows: ROWS, pictures: null, chapters: null, timed: false };
