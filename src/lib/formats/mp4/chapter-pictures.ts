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

/** A picture that is shown from a time on, in seconds; null for none, where another one has to stand in. */
export interface Still {
  readonly startSeconds: number;
  readonly picture: StoredPicture | null;
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

/** A track of still pictures: from when each is shown, in seconds, and where it lies. */
export interface StillTrack {
  readonly starts: readonly number[];
  readonly places: readonly Place[];
  /** Which of them stand in for none, counted from 1. */
  readonly standIns: ReadonlySet<number>;
}

/** The track of still pictures that goes with the chapters of a file; null where there is none. */
export function stillTrackOf(structure: Mp4Structure): StillTrack | null {
  const bytes = structure.moovBytes;
  const trak = referredTracks(bytes, wholeBox(structure)).find((one) => isStillTrack(bytes, one));
  const table = trak && findPath(bytes, trak, 'mdia', 'minf', 'stbl');
  const times = trak && findPath(bytes, trak, 'mdia', 'mdhd');
  const timescale = times ? readTimes(bytes, times).timescale : 0;
  if (!trak || !table || timescale === 0) return null;
  const starts = readStarts(bytes, table, MOST_STILLS).map((time) => time / timescale);
  return { starts, places: readPlaces(bytes, table, starts.length), standIns: standInsOf(bytes, trak) };
}

/** Pictures in such a track, at the most: some show several in a chapter. */
const MOST_STILLS = 4 * MOST_CHAPTERS;
/** Seconds by which starts may differ: a track may count milliseconds. */
const ROUNDING = 0.001;

/** Which of the pictures of a track is shown when a chapter begins; -1 for none. */
export const stillAt = ({ starts }: StillTrack, startSeconds: number): number =>
  starts.findLastIndex((start) => start <= startSeconds + ROUNDING);

/** Reads pictures of a track, each once, up to 32 MiB of them. */
export class StillReader {
  private readonly read = new Map<number, StoredPicture | null>();
  private left = MOST_TAG_BYTES;
  /** One of them was left out, since they are too large. */
  isFull = false;

  constructor(
    private readonly source: ByteSource,
    private readonly track: StillTrack,
  ) {}

  /** The picture at a place in the track; null where there is none, or where it only stands in for none. */
  async at(index: number): Promise<StoredPicture | null> {
    const place = this.track.standIns.has(index + 1) ? undefined : this.track.places[index];
    if (!place) return null;
    const known = this.read.get(place.start);
    if (known !== undefined) return known;
    const picture = await this.fetch(place);
    this.left -= picture?.bytes.length ?? 0;
    this.read.set(place.start, picture);
    return picture;
  }

  private async fetch({ start, size }: Place): Promise<StoredPicture | null> {
    if (size === 0 || start + size > this.source.size) return null;
    if (size > this.left) {
      this.isFull = true;
      return null;
    }
    return stillOf(await this.source.read(start, start + size));
  }
}

/**
 * For each chapter the picture that is shown when it begins; null for none of its own. Beyond 32 MiB of them none is read.
 */
export async function picturesOfChapters(
  source: ByteSource,
  structure: Mp4Structure,
  chapters: readonly Chapter[],
): Promise<readonly (StoredPicture | null)[]> {
  const track = chapters.length > 0 ? stillTrackOf(structure) : null;
  if (!track) return chapters.map(() => null);
  const reader = new StillReader(source, track);
  const pictures: (StoredPicture | null)[] = [];
  for (const { startSeconds } of chapters) pictures.push(await reader.at(stillAt(track, startSeconds)));
  return pictures;
}

/** A whole JPEG or PNG, by its first bytes; null for anything else. */
export function stillOf(bytes: Uint8Array): StoredPicture | null {
  if (readU32(bytes, 0) === 0x89504e47) return { mime: 'image/png', bytes };
  return readU16(bytes, 0) === 0xffd8 ? { mime: 'image/jpeg', bytes } : null;
}
