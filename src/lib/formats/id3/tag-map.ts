import type { FieldName, Fields } from '$lib/core/items';
import { MOST_CHAPTER_PICTURE_BYTES } from '../format';
import { withUnit, type NativeChange, type TagMap, type TagRow } from '../tag-map';
import type { Kind } from '$lib/core/kinds';
import { languageOrText, threeLetters } from '../language';
import { escapeGenre, isReference, unescapeGenre } from './genres';
import type { Id3Version } from './layout';

/** Frames of fields that have one of their own, in ID3v2.2 and in later versions. */
const FRAMES: readonly (Omit<TagRow, 'names'> & {
  readonly frames: readonly [string, string];
  /** Description of a user text that says the same where there is no such frame. */
  readonly texts?: string;
})[] = [
  { field: 'title', frames: ['TT2', 'TIT2'] },
  { field: 'album', frames: ['TAL', 'TALB'] },
  { field: 'albumArtist', frames: ['TP2', 'TPE2'] },
  { field: 'track', of: 'tracks', frames: ['TRK', 'TRCK'] },
  { field: 'disc', of: 'discs', frames: ['TPA', 'TPOS'] },
  { field: 'compilation', frames: ['TCP', 'TCMP'] },
  { field: 'artist', frames: ['TP1', 'TPE1'] },
  { field: 'composer', frames: ['TCM', 'TCOM'] },
  {
    field: 'genre',
    frames: ['TCO', 'TCON'],
    write: escapeGenre,
    read: unescapeGenre,
    holds: (text) => !isReference(text),
  },
  { field: 'lyrics', frames: ['ULT', 'USLT'] },
  // A number of 1 to 255, which `rating.ts` makes one of 1 to 100; others keep that in a user text.
  { field: 'rating', frames: ['POP', 'POPM'], texts: 'RATING' },
  // One with a description is something else, such as what a program notes for itself.
  { field: 'comment', frames: ['COM', 'COMM'] },
  // Of ID3v2.4; readers know them in earlier versions too.
  { field: 'titleSort', frames: ['TST', 'TSOT'] },
  { field: 'artistSort', frames: ['TSP', 'TSOP'] },
  { field: 'albumSort', frames: ['TSA', 'TSOA'] },
  { field: 'albumArtistSort', frames: ['TS2', 'TSO2'] },
  {
    field: 'language',
    frames: ['TLA', 'TLAN'],
    write: threeLetters,
    read: languageOrText,
    holds: (tag) => languageOrText(threeLetters(tag)) === tag,
  },
];

/** A frame that says that it is of a podcast, and one that describes it. */
export const PODCAST_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'PCS', 3: 'PCST', 4: 'PCST' };
const PODCAST_WORDS: Readonly<Record<Id3Version, string>> = { 2: 'TDS', 3: 'TDES', 4: 'TDES' };

/** Fields without a frame of their own, by the description of their user text frame (TXXX). */
const USER_TEXTS: readonly (readonly [FieldName, string])[] = [
  ['show', 'SHOW'],
  ['season', 'SEASON'],
  ['episode', 'EPISODE'],
  ['narrator', 'NARRATOR'],
  ['description', 'DESCRIPTION'],
  ['series', 'SERIES'],
  ['part', 'SERIES-PART'],
  ['edition', 'EDITION'],
  ['outsideNumber', 'OUTSIDE-NUMBER'],
  ['notes', 'NOTES'],
];

/** Levels, by user texts that programs write in capitals and in small letters. */
const GAINS: readonly (readonly [FieldName, string])[] = [
  ['trackGain', 'REPLAYGAIN_TRACK_GAIN'],
  ['albumGain', 'REPLAYGAIN_ALBUM_GAIN'],
];

const userFrame = (version: Id3Version): string => (version === 2 ? 'TXX' : 'TXXX');

/**
 * Dates: a year with a user text beside it for what is more precise up to ID3v2.3, a timestamp of any precision in
 * ID3v2.4 (structure, section 4). Frames of the other versions are read where a program put them.
 */
const DATES: Readonly<Record<Id3Version, TagRow>> = {
  2: {
    field: 'date',
    names: ['TYE'],
    yearOnly: true,
    precise: ['TXX:RELEASEDATE'],
    also: ['TDA', 'TIM', 'TRD'],
  },
  3: {
    field: 'date',
    names: ['TYER', 'TDRC'],
    yearOnly: true,
    precise: ['TXXX:RELEASEDATE', 'TDRL'],
    also: ['TDAT', 'TRDA', 'TIME'],
  },
  4: {
    field: 'date',
    names: ['TDRC', 'TYER'],
    precise: ['TXXX:RELEASEDATE', 'TDRL'],
    also: ['TDAT', 'TRDA', 'TIME'],
  },
};

function mapOf(version: Id3Version): TagMap {
  const column = version === 2 ? 0 : 1;
  return {
    rows: [
      ...FRAMES.map(({ frames, texts, ...row }): TagRow => {
        const others = texts ? [`${userFrame(version)}:${texts}`] : [];
        return { ...row, names: [frames[column], ...others] };
      }),
      DATES[version],
      ...GAINS.map(([field, text]): TagRow => ({
        field,
        names: [text, text.toLowerCase()].map((name) => `${userFrame(version)}:${name}`),
        write: withUnit,
      })),
      ...USER_TEXTS.map(([field, text]): TagRow => ({
        field,
        names: [
          `${userFrame(version)}:${text}`,
          ...(field === 'description' ? [PODCAST_WORDS[version]] : []),
        ],
      })),
    ],
    pictures: null,
    // ID3v2.2 has no frame for them.
    chapters:
      version === 2
        ? null
        : {
            most: 4000,
            titleBytes: Infinity,
            links: true,
            ends: true,
            pictureBytes: MOST_CHAPTER_PICTURE_BYTES,
          },
    timed: true,
    tracks: null,
    kinds: ['podcast'],
    marks: (kind, said) => marksOf(kind, said, version),
  };
}

/** Podcasts alone are told apart, by a frame of their own; programs that look for it look for a description beside it. */
function marksOf(kind: Kind, { description }: Fields, version: Id3Version): readonly NativeChange[] {
  const isPodcast = kind === 'podcast';
  const [flag, words] = [PODCAST_FRAME[version], PODCAST_WORDS[version]];
  return [
    { name: flag, goes: [flag], texts: isPodcast ? ['1'] : [] },
    ...(isPodcast && description !== null ? [{ name: words, goes: [words], texts: [description] }] : []),
  ];
}

export const ID3_MAPS: Readonly<Record<Id3Version, TagMap>> = { 2: mapOf(2), 3: mapOf(3), 4: mapOf(4) };

export const USER_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'TXX', 3: 'TXXX', 4: 'TXXX' };
/** Frames with a language and a description before their text. */
export const SPOKEN_FRAMES: Readonly<Record<Id3Version, readonly string[]>> = {
  2: ['ULT', 'COM'],
  3: ['USLT', 'COMM'],
  4: ['USLT', 'COMM'],
};
export const GENRE_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'TCO', 3: 'TCON', 4: 'TCON' };
export const LYRICS_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'ULT', 3: 'USLT', 4: 'USLT' };
export const PICTURE_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'PIC', 3: 'APIC', 4: 'APIC' };
export const TIMED_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'SLT', 3: 'SYLT', 4: 'SYLT' };
export const RATING_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'POP', 3: 'POPM', 4: 'POPM' };
export const CHAPTER_FRAME = 'CHAP';
export const CONTENTS_FRAME = 'CTOC';
