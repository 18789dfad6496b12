import { zipSync } from 'fflate';
import {
  FORMAT_ENDINGS,
  type ArrivalId,
  type Fields,
  type FormatId,
  type Item,
  type NativeTag,
  type SourceId,
} from '../../src/lib/core/items';
import type { Kind } from '../../src/lib/core/kinds';
import { EMPTY_PARTS, EXPORT_CHUNK, LIBRARY_VERSION, headFile, itemsFile } from '../../src/lib/core/library';
import { makeItem } from '../helpers/items';

const [SOURCE, ARRIVAL] = ['s' as SourceId, 'a' as ArrivalId];

const NOUNS =
  'Harbour Lantern Kelp Tide Ledger Anchor Gull Mooring Foghorn Driftwood Halyard Shingle Beacon Undertow Causeway Lodestar Ballast Ferry Cove Skerry Rigging Sandbar Estuary Breakwater Compass Keel Thole Windlass Buoy Slipway'.split(
    ' ',
  );
const ADJECTIVES =
  'Quiet Salt Northern Hollow Bright Last Blue Slow Winter Amber Distant Iron Paper Silver Sleeping Émigré Über Åland'.split(
    ' ',
  );
const FIRST = 'Orla Dag Mirén Tove Søren Ailsa Bram Iona Pell Ruth Zoë Anselm Fenna Jory Wilm'.split(' ');
const LAST = 'Venn Holme Tidewrack Marsh Quill Ostrander Lune Garrick Færch Dunne Sable Whin Corrie'.split(
  ' ',
);
const GENRES =
  'Folk Ambient Chanson Jazz Shanty Choral Electronic Waltz Reel Blues Soul Chamber Rock Pop Drone Punk Opera Ska Fado Tango Gospel Swing Dub Techno House Metal Country Hymn Lullaby March'.split(
    ' ',
  );

/** Always the same number from 0 up to a limit, for a place in the library and a purpose. */
function pick(index: number, purpose: number, limit: number): number {
  let mixed = Math.imul(index + 1, 0x9e3779b1) ^ Math.imul(purpose + 1, 0x85ebca6b);
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0x2c1b3c6d);
  mixed = Math.imul(mixed ^ (mixed >>> 12), 0x297a2d39);
  return ((mixed ^ (mixed >>> 15)) >>> 0) % limit;
}
const of = <T>(list: readonly T[], index: number, purpose: number): T =>
  list[pick(index, purpose, list.length)] as T;

const nameOf = (index: number): string =>
  `${of(FIRST, index, 1)} ${of(LAST, index, 2)}${index % 6 === 0 ? ` ${index}` : ''}`;
const titleOf = (index: number): string =>
  `${of(ADJECTIVES, index, 3)} ${of(NOUNS, index, 4)}${pick(index, 5, 3) === 0 ? ` of the ${of(NOUNS, index, 6)}` : ''} ${index}`;

/** What the tags of a file say, as its format writes them. */
function nativeOf(fields: Partial<Fields>, format: FormatId): NativeTag[] {
  const said = Object.entries(fields).flatMap(([id, value]): NativeTag[] =>
    value === null || value === undefined
      ? []
      : [{ format: format === 'flac' ? 'vorbis' : 'ID3v2.4', id: id.toUpperCase(), value: String(value) }],
  );
  const others = ['ENCODER', 'REPLAYGAIN_TRACK_GAIN', 'REPLAYGAIN_ALBUM_GAIN', 'BARCODE', 'ORGANIZATION'];
  return [...said, ...others.map((id) => ({ format: said[0]?.format ?? 'vorbis', id, value: `${id} 1.0` }))];
}

interface Made {
  readonly kind: Kind;
  readonly fields: Partial<Fields>;
  readonly folder: string;
  readonly format: FormatId;
  readonly seconds: number;
  readonly chapters?: number;
}

function songOf(index: number): Made {
  const album = Math.floor(index / 12);
  const artist = nameOf(album % 1800);
  const guests = pick(index, 7, 5) === 0 ? [nameOf(pick(index, 8, 1800))] : [];
  const genres = [of(GENRES, album, 9), ...(pick(index, 10, 3) === 0 ? [of(GENRES, index, 11)] : [])];
  const title = `${titleOf(album)} ${album % 7 === 0 ? 'Songs' : ''}`.trim();
  const fields = {
    title: titleOf(index),
    artist: [artist, ...guests],
    albumArtist: artist,
    album: title,
    // What is missing is missing album by album, as it is in real libraries.
    date: pick(album, 12, 9) === 0 ? null : String(1960 + pick(album, 13, 64)),
    track: (index % 12) + 1,
    tracks: pick(album, 14, 4) === 0 ? null : 12,
    genre: pick(album, 15, 7) === 0 ? null : [...new Set(genres)],
    composer: pick(album, 16, 3) === 0 ? [nameOf(pick(index, 17, 300))] : null,
  };
  return {
    kind: 'song',
    fields,
    folder: `Music/${artist}/${title}`,
    format: album % 3 === 0 ? 'mp3' : 'flac',
    seconds: 120 + pick(index, 18, 300),
  };
}

function podcastOf(index: number): Made {
  const show = `${titleOf(Math.floor(index / 90))} Hour`;
  const fields = {
    title: `Episode ${index % 90}: ${titleOf(index)}`,
    artist: [nameOf(Math.floor(index / 90))],
    album: show,
    show,
    episode: index % 90,
    date: `20${10 + pick(index, 19, 15)}-0${1 + pick(index, 20, 9)}-1${pick(index, 21, 9)}`,
    genre: ['Podcast'],
    description: pick(index, 22, 4) === 0 ? null : `${titleOf(index + 1)}, and what became of it. `.repeat(6),
  };
  return {
    kind: 'podcast',
    fields,
    folder: `Podcasts/${show}`,
    format: 'mp3',
    seconds: 1800 + pick(index, 23, 3600),
    chapters: pick(index, 24, 8),
  };
}

function bookOf(index: number): Made {
  const book = Math.floor(index / 24);
  const author = nameOf(book % 200);
  const fields = {
    title: `Chapter ${(index % 24) + 1}`,
    artist: [author],
    albumArtist: author,
    album: `The ${titleOf(book)}`,
    narrator: pick(book, 25, 3) === 0 ? null : [nameOf(book % 60)],
    track: (index % 24) + 1,
    tracks: 24,
    date: String(1900 + pick(book, 26, 120)),
  };
  return {
    kind: 'audiobook',
    fields,
    folder: `Books/${author}/The ${titleOf(book)}`,
    format: 'mp4',
    seconds: 1500,
  };
}

function videoOf(index: number): Made {
  const kinds: readonly Kind[] = ['musicVideo', 'film', 'episode', 'homeVideo'];
  const kind = of(kinds, index, 27);
  const fields = {
    title: titleOf(index),
    artist: kind === 'musicVideo' ? [nameOf(index % 900)] : null,
    show: kind === 'episode' ? `${titleOf(index % 40)} Sound` : null,
    season: kind === 'episode' ? 1 : null,
    episode: kind === 'episode' ? index % 30 : null,
    date: pick(index, 28, 3) === 0 ? null : String(1980 + pick(index, 29, 44)),
  };
  return {
    kind,
    fields,
    folder: `Video/${kind}`,
    format: index % 2 ? 'matroska' : 'mp4',
    seconds: 240 + pick(index, 30, 6000),
  };
}

function madeOf(index: number): Made {
  const share = pick(Math.floor(index / 96), 31, 100);
  if (share < 80) return songOf(index);
  if (share < 88) return podcastOf(index);
  return share < 95 ? bookOf(index) : videoOf(index);
}

function itemOf(index: number): Item {
  const { kind, fields, folder, format, seconds, chapters = 0 } = madeOf(index);
  const isVideo = format === 'matroska' || kind === 'film';
  const item = makeItem(`i${index}`, fields, {
    source: SOURCE,
    arrival: ARRIVAL,
    path: `${folder}/${String((index % 12) + 1).padStart(2, '0')} ${fields.title?.replace(/:/g, '') ?? ''}.${FORMAT_ENDINGS[format][0] ?? ''}`,
    size: seconds * (isVideo ? 400_000 : 40_000),
    modified: 1_500_000_000_000 + index * 1000,
    format,
    native: nativeOf(fields, format),
    settled: pick(Math.floor(index / 48), 32, 60) === 0 ? null : kind,
    guess: {
      kind,
      certainty: index % 5 === 0 ? 'likely' : 'sure',
      points: 80,
      next: 'podcast',
      nextPoints: 0,
      evidence: [],
    },
  });
  const hasPicture = pick(Math.floor(index / 12), 33, 8) !== 0;
  return {
    ...item,
    facts: { ...item.facts, durationSeconds: seconds },
    file: {
      ...item.file,
      pictures: hasPicture
        ? [
            {
              role: 'front',
              mime: 'image/jpeg',
              bytes: 60_000,
              width: 600,
              height: 600,
              hash: Math.floor(index / 12),
            },
          ]
        : [],
      chapters: Array.from({ length: chapters }, (_, at) => ({
        startSeconds: (at * seconds) / chapters,
        endSeconds: null,
        title: `Part ${at + 1}`,
        link: null,
      })),
    },
    // Of some something was said here.
    edits: pick(index, 34, 30) === 0 ? { fields: { title: `${fields.title ?? ''} (Remastered)` } } : {},
  };
}

/**
 * A library file as households have them: four fifths songs in albums of twelve, then podcasts, books and videos; several
 * artists and genres to a song, native tags, and what is missing here and there.
 */
export function bigLibrary(count: number): Uint8Array {
  const encode = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));
  const chunks = Math.ceil(count / EXPORT_CHUNK);
  const files: Record<string, Uint8Array> = {
    [headFile]: encode({
      ...EMPTY_PARTS,
      version: LIBRARY_VERSION,
      chunks,
      sources: [{ id: SOURCE, type: 'folder', label: 'Music' }],
      arrivals: [
        { id: ARRIVAL, source: SOURCE, origin: 'folder', label: 'Music', at: 1, unread: [], setAside: 0 },
      ],
    }),
  };
  for (let chunk = 0; chunk < chunks; chunk++)
    files[itemsFile(chunk)] = encode(
      Array.from({ length: Math.min(EXPORT_CHUNK, count - chunk * EXPORT_CHUNK) }, (_, at) =>
        itemOf(chunk * EXPORT_CHUNK + at),
      ),
    );
  return zipSync(files, { level: 6 });
}
