import { readAscii, readU16, readU32, readU64, type ByteSource } from '$lib/core/bytes';
import type { Chapter, Stream } from '$lib/core/items';
import { findBox, findPath, parseBoxes, type Box } from './layout';
import { readMp4, wholeBox } from './reader';

export interface Mp4Facts {
  readonly streams: readonly Stream[];
  readonly chapters: readonly Chapter[];
  readonly durationSeconds: number | null;
}

/** Chapters of a text track whose texts are read, at the most; each costs a slice. */
const MOST_CHAPTERS = 1000;

/**
 * Streams, chapters and length of an MP4 file. Chapters come from the text track that a sound track
 * refers to (`tref/chap`), else from the list in `udta/chpl`.
 * @throws {FormatError} when the file cannot be read
 */
export async function readMp4Facts(source: ByteSource): Promise<Mp4Facts> {
  const structure = await readMp4(source);
  const bytes = structure.moovBytes;
  const moov = wholeBox(structure);
  const children = parseBoxes(bytes, moov.content, moov.end);
  const tracks = children.filter(({ type }) => type === 'trak').map((box) => readTrack(bytes, box));
  const chapterIds = new Set(tracks.flatMap((track) => track.chapterTracks));
  const chapterTrack = tracks.find((track) => chapterIds.has(track.id) && track.handler !== 'vide');
  const listed = readChapterList(bytes, moov);
  const chapters = chapterTrack ? await readChapterTrack(source, bytes, chapterTrack) : listed;
  const header = findBox(children, 'mvhd');
  return {
    streams: tracks
      .filter((track) => !chapterIds.has(track.id))
      .flatMap((track) => (track.stream ? [track.stream] : [])),
    chapters: chapters.length > 0 ? chapters : listed,
    durationSeconds: header ? readDuration(bytes, header) : null,
  };
}

interface Track {
  readonly id: number;
  readonly handler: string;
  readonly timescale: number;
  readonly table: Box | null;
  readonly chapterTracks: readonly number[];
  readonly stream: Stream | null;
}

/** `mvhd` and `mdhd` begin alike: version 1 has 64-bit times (sections 8.2.2 and 8.4.2). */
function readTimes(bytes: Uint8Array, box: Box): { timescale: number; duration: number } {
  const long = bytes[box.content] === 1;
  const at = box.content + (long ? 20 : 12);
  return { timescale: readU32(bytes, at), duration: long ? readU64(bytes, at + 4) : readU32(bytes, at + 4) };
}

function readDuration(bytes: Uint8Array, box: Box): number | null {
  const { timescale, duration } = readTimes(bytes, box);
  return timescale > 0 && duration > 0 && duration !== 0xffffffff ? duration / timescale : null;
}

function readTrack(bytes: Uint8Array, trak: Box): Track {
  const header = findPath(bytes, trak, 'tkhd');
  const handlerBox = findPath(bytes, trak, 'mdia', 'hdlr');
  const times = findPath(bytes, trak, 'mdia', 'mdhd');
  const table = findPath(bytes, trak, 'mdia', 'minf', 'stbl');
  const refers = findPath(bytes, trak, 'tref', 'chap');
  const handler = handlerBox ? readAscii(bytes, handlerBox.content + 8, 4) : '';
  const chapterTracks: number[] = [];
  if (refers)
    for (let at = refers.content; at + 4 <= refers.end; at += 4) chapterTracks.push(readU32(bytes, at));
  return {
    id: header ? readU32(bytes, header.content + (bytes[header.content] === 1 ? 20 : 12)) : 0,
    handler,
    timescale: times ? readTimes(bytes, times).timescale : 0,
    table,
    chapterTracks,
    stream: table && readStream(bytes, handler, table),
  };
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
  const sound = type === 'sound';
  const picture = type === 'picture';
  return {
    type,
    codec: readAscii(bytes, entry + 4, 4).trim(),
    channels: sound ? readU16(bytes, entry + 24) : null,
    sampleRate: sound ? readU16(bytes, entry + 32) : null,
    width: picture ? readU16(bytes, entry + 32) : null,
    height: picture ? readU16(bytes, entry + 34) : null,
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
    const title = new TextDecoder().decode(bytes.subarray(at + 9, at + 9 + length));
    chapters.push({ startSeconds: readU64(bytes, at) / 10_000_000, title });
    at += 9 + length;
  }
  return chapters;
}

/** Samples of a text track: 16-bit length, then text; their lengths in time add up to the starts. */
async function readChapterTrack(source: ByteSource, bytes: Uint8Array, track: Track): Promise<Chapter[]> {
  if (!track.table || track.timescale === 0) return [];
  const starts = readStarts(bytes, track.table);
  const places = readPlaces(bytes, track.table, starts.length);
  const chapters: Chapter[] = [];
  for (const [index, place] of places.slice(0, MOST_CHAPTERS).entries()) {
    const sample = await source.read(place.start, place.start + Math.min(place.size, 2048));
    const title = new TextDecoder().decode(sample.subarray(2, 2 + readU16(sample, 0)));
    chapters.push({ startSeconds: (starts[index] ?? 0) / track.timescale, title });
  }
  return chapters;
}

/** Start of each sample in units of the track's timescale, from `stts`. */
function readStarts(bytes: Uint8Array, table: Box): number[] {
  const times = findPath(bytes, table, 'stts');
  if (!times) return [];
  const starts: number[] = [];
  let time = 0;
  for (let at = times.content + 8; at + 8 <= times.end && starts.length < MOST_CHAPTERS; at += 8) {
    const count = readU32(bytes, at);
    const delta = readU32(bytes, at + 4);
    for (let i = 0; i < count && starts.length < MOST_CHAPTERS; i++, time += delta) starts.push(time);
  }
  return starts;
}

/** Where each sample lies in the file, from `stsz`, `stsc` and the chunk offsets. */
function readPlaces(bytes: Uint8Array, table: Box, count: number): { start: number; size: number }[] {
  const boxes = parseBoxes(bytes, table.content, table.end);
  const sizes = findBox(boxes, 'stsz');
  const runs = findBox(boxes, 'stsc');
  const short = findBox(boxes, 'stco');
  const long = findBox(boxes, 'co64');
  const offsets = short ?? long;
  if (!sizes || !runs || !offsets) return [];
  const uniform = readU32(bytes, sizes.content + 4);
  const chunks = readU32(bytes, offsets.content + 4);
  const runCount = readU32(bytes, runs.content + 4);
  const places: { start: number; size: number }[] = [];
  let run = 0;
  for (let chunk = 1; chunk <= chunks && places.length < count; chunk++) {
    while (run + 1 < runCount && readU32(bytes, runs.content + 8 + (run + 1) * 12) <= chunk) run++;
    let start = short
      ? readU32(bytes, offsets.content + 8 + (chunk - 1) * 4)
      : readU64(bytes, offsets.content + 8 + (chunk - 1) * 8);
    const inChunk = readU32(bytes, runs.content + 8 + run * 12 + 4);
    for (let i = 0; i < inChunk && places.length < count; i++) {
      const size = uniform || readU32(bytes, sizes.content + 12 + places.length * 4);
      places.push({ start, size });
      start += size;
    }
  }
  return places;
}
