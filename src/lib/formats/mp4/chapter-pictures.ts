import { readU16, readU32, u32, type ByteSource } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { MOST_TAG_BYTES } from '../format';
import { findPath, makeBox, parseBoxes, type Box } from './boxes';
import { isStillTrack, referredTracks } from './chapters';
import { wholeBox, type Mp4Structure } from './reader';
import { readPlaces, readStarts, type Place } from './sample-tables';
import { MOST_CHAPTERS } from './tag-map';
import { readTimes } from './times';

/* Pictures of chapters are samples of a track that sound and picture refer to (`tref/chap`), each shown until the next
   one. Such a track cannot show nothing for a while: where a chapter has no picture, another one stands in. */

export interface StoredPicture {
  readonly mime: string;
  readonly bytes: Uint8Array;
}

/** Marks which samples stand in for none, counted from 1; the type is our own (ISO/IEC 14496-12, section 4.2). */
const STAND_INS = Uint8Array.of(
  ...[0x5d, 0x0e, 0x9b, 0x36, 0x7a, 0x41, 0x4c, 0x82],
  ...[0xb1, 0x5c, 0x2f, 0x93, 0x08, 0xe6, 0x74, 0xda],
);

export const standInsBox = (numbers: readonly number[]): Uint8Array =>
  makeBox('uuid', STAND_INS, ...numbers.map((number) => u32(number)));

function standInsOf(bytes: Uint8Array, trak: Box): ReadonlySet<number> {
  const isMark = ({ type, content }: Box) =>
    type === 'uuid' && STAND_INS.every((byte, index) => bytes[content + index] === byte);
  const mark = parseBoxes(bytes, trak.content, trak.end).find(isMark);
  const numbers = new Set<number>();
  if (!mark) return numbers;
  for (let at = mark.content + STAND_INS.length; at + 4 <= mark.end; at += 4) numbers.add(readU32(bytes, at));
  return numbers;
}

/** Whether a chapter without a picture of its own has another one in its place. */
export function hasStandIns({ moovBytes: bytes, ...structure }: Mp4Structure): boolean {
  const trak = stillTrack(bytes, wholeBox({ moovBytes: bytes, ...structure }));
  return trak !== null && standInsOf(bytes, trak).size > 0;
}

const stillTrack = (bytes: Uint8Array, moov: Box): Box | null =>
  referredTracks(bytes, moov).find((trak) => isStillTrack(bytes, trak)) ?? null;

/** Seconds by which starts may differ: a track may count milliseconds. */
const ROUNDING = 0.001;

/**
 * For each chapter the picture that is shown when it begins; null for none of its own. Beyond 32 MiB of them none is read.
 */
export async function picturesOfChapters(
  source: ByteSource,
  structure: Mp4Structure,
  chapters: readonly Chapter[],
): Promise<readonly (StoredPicture | null)[]> {
  const bytes = structure.moovBytes;
  const trak = chapters.length > 0 ? stillTrack(bytes, wholeBox(structure)) : null;
  const table = trak && findPath(bytes, trak, 'mdia', 'minf', 'stbl');
  const times = trak && findPath(bytes, trak, 'mdia', 'mdhd');
  const { timescale } = times ? readTimes(bytes, times) : { timescale: 0 };
  if (!trak || !table || timescale === 0) return chapters.map(() => null);
  const starts = readStarts(bytes, table, MOST_CHAPTERS).map((time) => time / timescale);
  const places = readPlaces(bytes, table, starts.length);
  const standIns = standInsOf(bytes, trak);
  const read = new Map<number, StoredPicture | null>();
  let left = MOST_TAG_BYTES;
  const pictures: (StoredPicture | null)[] = [];
  for (const { startSeconds } of chapters) {
    const index = starts.findLastIndex((start) => start <= startSeconds + ROUNDING);
    const place = standIns.has(index + 1) ? undefined : places[index];
    if (place && !read.has(place.start)) {
      const picture = place.size <= left ? await readStill(source, place) : null;
      read.set(place.start, picture);
      left -= picture?.bytes.length ?? 0;
    }
    pictures.push((place && read.get(place.start)) ?? null);
  }
  return pictures;
}

async function readStill(source: ByteSource, { start, size }: Place): Promise<StoredPicture | null> {
  return size === 0 || start + size > source.size ? null : stillOf(await source.read(start, start + size));
}

/** A whole JPEG or PNG, by its first bytes; null for anything else. */
export function stillOf(bytes: Uint8Array): StoredPicture | null {
  if (readU32(bytes, 0) === 0x89504e47) return { mime: 'image/png', bytes };
  return readU16(bytes, 0) === 0xffd8 ? { mime: 'image/jpeg', bytes } : null;
}
