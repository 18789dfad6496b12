import { readU16, readU32, skim, u32, type ByteSource } from '$lib/core/bytes';
import { MOST_TAG_BYTES } from '../format';
import { findPath, makeBox, parseBoxes, type Box } from './boxes';
import { isStillTrack, referredTracks } from './chapters';
import { wholeBox, type Mp4Structure } from './reader';
import { readPlaces, readStarts, type ChunkRange } from './sample-tables';
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

/** A track of still pictures: where each lies, and which of them stand in for none, counted from 1. */
interface StillTrack {
  readonly places: readonly ChunkRange[];
  readonly standIns: ReadonlySet<number>;
}

/** Pictures in such a track, at the most: some show several in a chapter. */
const MOST_STILLS = 4 * MOST_CHAPTERS;
/** Seconds by which starts may differ: a track may count milliseconds. */
const ROUNDING = 0.001;

/** The still pictures that go with the chapters of a file; null where there are none. */
export function stillsIn(source: ByteSource, structure: Mp4Structure): Stills | null {
  const bytes = structure.moovBytes;
  const trak = referredTracks(bytes, wholeBox(structure)).find((one) => isStillTrack(bytes, one));
  const table = trak && findPath(bytes, trak, 'mdia', 'minf', 'stbl');
  const times = trak && findPath(bytes, trak, 'mdia', 'mdhd');
  const timescale = times ? readTimes(bytes, times).timescale : 0;
  if (!trak || !table || timescale === 0) return null;
  const starts = readStarts(bytes, table, MOST_STILLS).map((time) => time / timescale);
  const places = readPlaces(bytes, table, starts.length);
  return new Stills(source, starts, { places, standIns: standInsOf(bytes, trak) });
}

/** Still pictures of a file. Each is read once, when it is first asked for, up to 32 MiB in all. */
export class Stills {
  private readonly read = new Map<number, StoredPicture | null>();
  private left = MOST_TAG_BYTES;
  /** One that was asked for was left out, since they are too large. */
  isFull = false;

  /** @param starts from when each is shown, in seconds */
  constructor(
    private readonly source: ByteSource,
    readonly starts: readonly number[],
    private readonly track: StillTrack,
  ) {}

  /** Whether another picture is shown where there is none. */
  get hasStandIns(): boolean {
    return this.track.standIns.size > 0;
  }

  /** Which of them is shown at a time in seconds; -1 for none. */
  indexAt(seconds: number): number {
    return this.starts.findLastIndex((start) => start <= seconds + ROUNDING);
  }

  /** The picture at a place in the track; null where there is none, or where it only stands in for none. */
  async at(index: number): Promise<StoredPicture | null> {
    const place = this.track.standIns.has(index + 1) ? undefined : this.track.places[index];
    if (!place) return null;
    const known = this.read.get(place.start);
    if (known !== undefined) return known;
    const picture = await this.fetch(place);
    this.read.set(place.start, picture);
    return picture;
  }

  private async fetch({ start, size }: ChunkRange): Promise<StoredPicture | null> {
    if (size === 0 || start + size > this.source.size) return null;
    if (size > this.left) {
      this.isFull = true;
      return null;
    }
    // What turns out to be no picture was read all the same.
    this.left -= size;
    // They may lie all over a file: a block around each of them would be a multiple of what they are.
    return stillOf(await skim(this.source, start, start + size));
  }
}

/** A whole JPEG or PNG, by its first bytes; null for anything else. */
export function stillOf(bytes: Uint8Array): StoredPicture | null {
  if (readU32(bytes, 0) === 0x89504e47) return { mime: 'image/png', bytes };
  return readU16(bytes, 0) === 0xffd8 ? { mime: 'image/jpeg', bytes } : null;
}
