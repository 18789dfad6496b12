import { readAscii, readU16, readU64, UTF8, type ByteSource } from '$lib/core/bytes';
import { cleanText, type Chapter, type Stream, type Track } from '$lib/core/items';
import { unplacedFact } from '../picture-fact';
import { MOST_LISTED, chapterTrackIds, handlerOf, trackId } from './chapters';
import { findBox, findPath, parseBoxes, type Box } from './boxes';
import { stillsIn, type Stills } from './chapter-pictures';
import { metaBoxes, wholeBox, type Mp4Structure } from './reader';
import { lastChunkEnd, sampleBytes, readPlaces, readStarts } from './sample-tables';
import { soundOf } from './sound-entry';
import { fragmentedSeconds } from './fragments';
import { readTimes } from './times';
import { ENABLED, flagsIn } from './tracks';
import { MOST_CHAPTERS } from './tag-map';

export interface Mp4Facts {
  readonly streams: readonly Stream[];
  readonly tracks: readonly Track[];
  readonly chapters: readonly Chapter[];
  /** Pictures that go with the chapters; null where there are none. */
  readonly stills: Stills | null;
  readonly durationSeconds: number | null;
  /** Why its tags cannot be written, as far as that is known before; null when they can. */
  readonly locked: 'fragmented' | 'foreignTags' | null;
}

/**
 * Streams, chapters and length of an MP4 file. Chapters come from the text track that a sound track
 * refers to (`tref/chap`), else from the list in `udta/chpl`; where both say the same, its finer starts count. Their
 * pictures come from another such track.
 * @throws {FormatError} when the file cannot be read
 */
export async function readMp4Facts(source: ByteSource, structure: Mp4Structure): Promise<Mp4Facts> {
  const bytes = structure.moovBytes;
  const moov = wholeBox(structure);
  const children = parseBoxes(bytes, moov.content, moov.end);
  const tracks = children.filter(({ type }) => type === 'trak').map((box) => readTrak(bytes, box));
  const chapterIds = new Set(tracks.flatMap((track) => track.chapterTracks));
  const chapterTrack = tracks.find((track) => chapterIds.has(track.id) && track.handler !== 'vide');
  const listed = readChapterList(bytes, moov);
  const told = chapterTrack ? await readChapterTrack(source, bytes, chapterTrack) : listed;
  const both = isListOf(listed, told) ? [...listed, ...told.slice(listed.length)] : told;
  const chapters = both.length > 0 ? both : listed;
  const stills = chapters.length > 0 ? stillsIn(source, structure) : null;
  const header = findBox(children, 'mvhd');
  const played = tracks.filter((track) => !chapterIds.has(track.id) && track.stream);
  return {
    streams: played.flatMap(({ stream }) => stream ?? []),
    tracks: played.map(({ id, box, stream }) => readTrack(bytes, box, id, stream?.type ?? 'sound')),
    chapters: stills ? await withPictures(chapters, stills) : chapters,
    stills,
    durationSeconds: (header && readDuration(bytes, header)) ?? (await fragmentedSeconds(source, structure)),
    locked: lockOf(structure),
  };
}

async function withPictures(chapters: readonly Chapter[], stills: Stills): Promise<readonly Chapter[]> {
  const shown: Chapter[] = [];
  for (const chapter of chapters) {
    const picture = await stills.at(stills.indexAt(chapter.startSeconds));
    shown.push(picture ? { ...chapter, picture: unplacedFact(picture.mime, picture.bytes) } : chapter);
  }
  return shown;
}

/** What starts may differ by where a text track counts milliseconds, seconds. */
const ROUNDING = 0.001;

/**
 * Whether a list says the same as the text track of a file, as far as it has room. In the track the first chapter counts
 * from the beginning.
 */
const isListOf = (listed: readonly Chapter[], told: readonly Chapter[]): boolean =>
  listed.length === Math.min(told.length, MOST_LISTED) &&
  listed.every(({ startSeconds, title }, index) => {
    const other = told[index];
    if (other?.title !== title) return false;
    return (
      (index === 0 && other.startSeconds === 0) || Math.abs(other.startSeconds - startSeconds) <= ROUNDING
    );
  });

/** Free bytes behind `moov` below which a fragmented file has no room for new tags. */
const LEAST_ROOM_BYTES = 512;

function lockOf(structure: Mp4Structure): Mp4Facts['locked'] {
  const { top, moov, moovBytes, fragmented } = structure;
  const meta = findPath(moovBytes, wholeBox(structure), 'udta', 'meta');
  const handler = meta && findBox(metaBoxes(moovBytes, meta), 'hdlr');
  if (handler && readAscii(moovBytes, handler.content + 8, 4) !== 'mdir') return 'foreignTags';
  const behind = top.find(({ start }) => start === moov.end);
  const room = behind && ['free', 'skip'].includes(behind.type) ? behind.end - behind.start : 0;
  return fragmented && room < LEAST_ROOM_BYTES ? 'fragmented' : null;
}

/**
 * Where the samples end that `moov` tells of: the end of the last chunk of every track. 0 when it tells of none, as in
 * a fragmented file.
 */
export function sampleEnd(structure: Mp4Structure): number {
  const bytes = structure.moovBytes;
  const moov = wholeBox(structure);
  let end = 0;
  for (const trak of parseBoxes(bytes, moov.content, moov.end).filter(({ type }) => type === 'trak')) {
    const table = findPath(bytes, trak, 'mdia', 'minf', 'stbl');
    if (table) end = Math.max(end, lastChunkEnd(bytes, table));
  }
  return end;
}

interface Trak {
  readonly box: Box;
  readonly id: number;
  readonly handler: string;
  readonly timescale: number;
  readonly table: Box | null;
  readonly chapterTracks: readonly number[];
  readonly stream: Stream | null;
}

function readDuration(bytes: Uint8Array, box: Box): number | null {
  const { timescale, duration } = readTimes(bytes, box);
  return timescale > 0 && duration > 0 && duration !== 0xffffffff ? duration / timescale : null;
}

function readTrak(bytes: Uint8Array, trak: Box): Trak {
  const times = findPath(bytes, trak, 'mdia', 'mdhd');
  const table = findPath(bytes, trak, 'mdia', 'minf', 'stbl');
  const handler = handlerOf(bytes, trak);
  return {
    box: trak,
    id: trackId(bytes, trak),
    handler,
    timescale: times ? readTimes(bytes, times).timescale : 0,
    table,
    chapterTracks: chapterTrackIds(bytes, trak),
    stream: table && readStream(bytes, handler, table),
  };
}

function readTrack(bytes: Uint8Array, trak: Box, id: number, type: Track['type']): Track {
  const header = findPath(bytes, trak, 'tkhd');
  const name = findPath(bytes, trak, 'udta', 'name');
  return {
    id,
    type,
    language: languageOf(bytes, trak),
    name: name ? cleanText(UTF8.decode(bytes.subarray(name.content, name.end))) : '',
    isDefault: header !== null && ((bytes[header.content + 3] ?? 0) & ENABLED) !== 0,
    isForced: false,
    ...flagsIn(bytes, findPath(bytes, trak, 'udta')),
  };
}

/** The extended language tag (section 8.4.6), else three letters of five bits each (section 8.4.2). */
function languageOf(bytes: Uint8Array, trak: Box): string | null {
  const extended = findPath(bytes, trak, 'mdia', 'elng');
  if (extended) {
    const text = UTF8.decode(bytes.subarray(extended.content + 4, extended.end));
    return cleanText(text) || null;
  }
  const times = findPath(bytes, trak, 'mdia', 'mdhd');
  const packed = times ? readU16(bytes, times.content + (bytes[times.content] === 1 ? 32 : 20)) : 0;
  const letters = [10, 5, 0].map((shift) => ((packed >> shift) & 0x1f) + 0x60);
  const language = String.fromCharCode(...letters);
  return /^[a-z]{3}$/.test(language) && language !== 'und' ? language : null;
}

const STREAM_TYPES: Readonly<Record<string, Stream['type']>> = {
  vide: 'picture',
  soun: 'sound',
  sbtl: 'subtitle',
  subt: 'subtitle',
  text: 'subtitle',
};

/** The first sample entry says codec, pixels and channels (section 12). */
function readStream(bytes: Uint8Array, handler: string, table: Box): Stream | null {
  const type = STREAM_TYPES[handler];
  const description = findPath(bytes, table, 'stsd');
  if (!type || !description) return null;
  const entry = description.content + 8;
  const picture = type === 'picture';
  return {
    type,
    codec: readAscii(bytes, entry + 4, 4).trim(),
    ...(type === 'sound' ? soundOf(bytes, entry) : { channels: null, sampleRate: null }),
    width: picture ? readU16(bytes, entry + 32) : null,
    height: picture ? readU16(bytes, entry + 34) : null,
    bytes: sampleBytes(bytes, table),
  };
}

/** `udta/chpl`: a count, then for each chapter its start in units of 100 ns and a title of one length byte. */
function readChapterList(bytes: Uint8Array, moov: Box): Chapter[] {
  const list = findPath(bytes, moov, 'udta', 'chpl');
  if (!list) return [];
  const version = bytes[list.content] ?? 0;
  let at = list.content + (version === 1 ? 8 : 4);
  const count = bytes[at++] ?? 0;
  const chapters: Chapter[] = [];
  for (let i = 0; i < count && at + 9 <= list.end; i++) {
    const length = bytes[at + 8] ?? 0;
    const title = UTF8.decode(bytes.subarray(at + 9, at + 9 + length));
    chapters.push({ startSeconds: readU64(bytes, at) / 10_000_000, endSeconds: null, title, link: null });
    at += 9 + length;
  }
  return chapters;
}

/** Samples of a text track: 16-bit length, then text; their lengths in time add up to the starts. */
async function readChapterTrack(source: ByteSource, bytes: Uint8Array, track: Trak): Promise<Chapter[]> {
  if (!track.table || track.timescale === 0) return [];
  const starts = readStarts(bytes, track.table, MOST_CHAPTERS);
  const places = readPlaces(bytes, track.table, starts.length);
  const chapters: Chapter[] = [];
  for (const [index, place] of places.slice(0, MOST_CHAPTERS).entries()) {
    const sample = await source.read(place.start, place.start + Math.min(place.size, 2048));
    const title = UTF8.decode(sample.subarray(2, 2 + readU16(sample, 0)));
    chapters.push({
      startSeconds: (starts[index] ?? 0) / track.timescale,
      endSeconds: null,
      title,
      link: null,
    });
  }
  return chapters;
}
