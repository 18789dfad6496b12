import { MOST_CHAPTER_PICTURE_BYTES } from '../format';
import { languageOrText } from '../language';
import type { Kind } from '$lib/core/kinds';
import { withUnit, type TagMap, type TagRow } from '../tag-map';

/** Chapters of a file that are read and written, at the most; each that is read costs a slice. */
export const MOST_CHAPTERS = 1000;

/** What stands before the name of a freeform item, whatever its domain. */
export const NAMED = '----:';

/** What a file is by its number, and whether it is of a podcast, as players of MP4 tell these apart. */
const MEDIA_KIND_ITEM = 'stik';
const PODCAST_ITEM = 'pcst';
const MEDIA_KINDS: Readonly<Partial<Record<Kind, number>>> = {
  audiobook: 2,
  musicVideo: 6,
  film: 9,
  episode: 10,
  ringtone: 14,
  podcast: 21,
};

/** Levels, by names that programs write in small letters and in capitals. */
const GAINS: readonly TagRow[] = (['track', 'album'] as const).map((of) => {
  const name = `replaygain_${of}_gain`;
  return {
    field: `${of}Gain`,
    names: [name, name.toUpperCase()].map((one) => `${NAMED}${one}`),
    write: withUnit,
  };
});

/**
 * Items of the metadata item list (`moov/udta/meta/ilst`). `\u00a9` is the byte A9. Several values are several `data`
 * boxes of one item.
 */
export const MP4_MAP: TagMap = {
  rows: [
    { field: 'title', names: ['\u00a9nam'] },
    { field: 'album', names: ['\u00a9alb'] },
    { field: 'albumArtist', names: ['aART'] },
    { field: 'date', names: ['\u00a9day'], precise: [`${NAMED}RELEASEDATE`] },
    { field: 'track', of: 'tracks', names: ['trkn'] },
    { field: 'disc', of: 'discs', names: ['disk'] },
    { field: 'compilation', names: ['cpil'] },
    { field: 'show', names: ['tvsh'] },
    { field: 'season', names: ['tvsn'] },
    { field: 'episode', names: ['tves'] },
    { field: 'artist', names: ['\u00a9ART'] },
    { field: 'composer', names: ['\u00a9wrt'] },
    // A genre by number gives way to a written one.
    { field: 'genre', names: ['\u00a9gen'], also: ['gnre'] },
    { field: 'narrator', names: [`${NAMED}NARRATOR`, '\u00a9nrt'] },
    // Many have a short and a long one; a new one takes the place of both.
    { field: 'description', names: ['desc', 'ldes'] },
    { field: 'lyrics', names: ['\u00a9lyr'] },
    { field: 'comment', names: ['\u00a9cmt'] },
    { field: 'titleSort', names: ['sonm'] },
    { field: 'artistSort', names: ['soar'] },
    { field: 'albumSort', names: ['soal'] },
    { field: 'albumArtistSort', names: ['soaa'] },
    { field: 'language', names: [`${NAMED}LANGUAGE`], read: languageOrText },
    { field: 'series', names: [`${NAMED}SERIES`] },
    { field: 'part', names: [`${NAMED}SERIES-PART`] },
    { field: 'edition', names: [`${NAMED}EDITION`] },
    { field: 'outsideNumber', names: [`${NAMED}OUTSIDE-NUMBER`] },
    { field: 'rating', names: [`${NAMED}RATING`] },
    { field: 'notes', names: [`${NAMED}NOTES`] },
    ...GAINS,
  ],
  pictures: ['front'],
  // A list of chapters counts the bytes of each title in one byte.
  chapters: {
    most: MOST_CHAPTERS,
    titleBytes: 255,
    links: false,
    ends: false,
    pictureBytes: MOST_CHAPTER_PICTURE_BYTES,
  },
  timed: false,
  tracks: ['isDefault', 'isForced', 'isCommentary', 'isForHearing', 'isForSeeing'],
  kinds: Object.keys(MEDIA_KINDS) as Kind[],
  marks: (kind, _said, texts) => {
    const own = MEDIA_KINDS[kind];
    // What is of no such kind is told as such only where it was told as another one.
    const other = own === undefined && Number(texts.get(MEDIA_KIND_ITEM)?.[0] ?? 0) > 1;
    return [
      ...(own === undefined && !other
        ? []
        : [
            { name: MEDIA_KIND_ITEM, goes: [MEDIA_KIND_ITEM], texts: own === undefined ? [] : [String(own)] },
          ]),
      { name: PODCAST_ITEM, goes: [PODCAST_ITEM], texts: kind === 'podcast' ? ['1'] : [] },
    ];
  },
};

/** How items that are no text hold their value. */
export type ItemForm = 'text' | 'integer' | 'byte' | 'flag' | 'track' | 'disc';
const FORMS: Readonly<Record<string, ItemForm>> = {
  tvsn: 'integer',
  tves: 'integer',
  cpil: 'flag',
  stik: 'byte',
  pcst: 'flag',
  trkn: 'track',
  disk: 'disc',
};
export const formOf = (name: string): ItemForm => FORMS[name] ?? 'text';

/** The domain of named items that we write; those of any domain are read and replaced, by their names. */
export const NAMED_DOMAIN = 'org.lectorum';
export const COVER_ITEM = 'covr';
/** A genre by its number. */
export const GENRE_ITEM = 'gnre';

/** Type codes of a `data` box. */
export const DATA = { reserved: 0, utf8: 1, jpeg: 13, png: 14, integer: 21 } as const;
