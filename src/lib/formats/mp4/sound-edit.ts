import { concat, readAscii, readU32, readU64, u32, type ByteSource } from '$lib/core/bytes';
import { findBox, findPath, parseBoxes, type Box } from './boxes';
import { readMp4, wholeBox } from './reader';

/** From when to when a sound plays, in seconds of its movie. */
export interface SoundSpan {
  readonly start: number;
  readonly end: number;
}

/** What an edit list says first where nothing plays yet. */
const NOTHING = 0xffffffff;

/**
 * When the first sound of a file plays, where its edit list says so: what an encoder put before and behind it is left
 * out (ISO/IEC 14496-12, section 8.6.6). Null where there is no such list, or one of several parts.
 * @throws {FormatError}
 */
export async function readSoundSpan(source: ByteSource): Promise<SoundSpan | null> {
  const structure = await readMp4(source);
  const { moovBytes: bytes } = structure;
  const whole = wholeBox(structure);
  const header = findPath(bytes, whole, 'mvhd');
  for (const trak of parseBoxes(bytes, whole.content, whole.end)) {
    if (trak.type !== 'trak' || handlerOf(bytes, trak) !== 'soun') continue;
    const list = findPath(bytes, trak, 'edts', 'elst');
    const timescale = header && timescaleOf(bytes, header);
    const edits = list && editsOf(bytes, list);
    if (!timescale || !edits) return null;
    const start = edits.length === 2 && edits[0]!.mediaTime === NOTHING ? edits[0]!.duration : 0;
    const { duration } = edits.at(-1)!;
    const isOne = edits.length === 1 || start > 0;
    return isOne && duration > 0 ? { start: start / timescale, end: (start + duration) / timescale } : null;
  }
  return null;
}

/**
 * Has a movie say when each of its sounds plays, in the place that its edit lists have for it: what an encoder set before
 * and behind a sound plays no longer then. A sound without an edit list is left as it is.
 * @param bytes a `moov`, changed in place
 * @param spans of each sound, in their order
 */
export function writeSoundSpans(bytes: Uint8Array, spans: readonly SoundSpan[]): void {
  const whole = findBox(parseBoxes(bytes), 'moov');
  const movie = whole && findPath(bytes, whole, 'mvhd');
  if (!whole || !movie) return;
  const durations: number[] = [];
  let next = 0;
  for (const trak of parseBoxes(bytes, whole.content, whole.end)) {
    const track = trak.type === 'trak' ? findPath(bytes, trak, 'tkhd') : null;
    if (!track) continue;
    const span = handlerOf(bytes, trak) === 'soun' ? spans[next++] : undefined;
    if (span) writeSpan(bytes, trak, track, span, timescaleOf(bytes, movie));
    durations.push(readTime(bytes, track, trackDuration(bytes, track)));
  }
  writeTime(bytes, movie, movie.content + (isLong(bytes, movie) ? 24 : 16), Math.max(0, ...durations));
}

function writeSpan(
  bytes: Uint8Array,
  trak: Box,
  track: Box,
  { start, end }: SoundSpan,
  timescale: number,
): void {
  const list = findPath(bytes, trak, 'edts', 'elst');
  const edits = list && editsOf(bytes, list);
  const media = findPath(bytes, trak, 'mdia', 'mdhd');
  if (!edits || !media) return;
  const [from, to] = [Math.round(start * timescale), Math.round(end * timescale)];
  const [first, second] = edits;
  if (first?.mediaTime === NOTHING && second && from >= first.duration) {
    const primed = ((from - first.duration) / timescale) * timescaleOf(bytes, media);
    writeTime(bytes, list, first.at, from);
    writeTime(bytes, list, second.at, to - from);
    writeTime(bytes, list, second.at + (isLong(bytes, list) ? 8 : 4), Math.round(primed));
  } else if (edits.length === 1) writeTime(bytes, list, first!.at, to);
  else return;
  writeTime(bytes, track, trackDuration(bytes, track), to);
}

interface Edit {
  readonly at: number;
  readonly duration: number;
  readonly mediaTime: number;
}

/** The first two edits of a list; null where it has others, or none. */
function editsOf(bytes: Uint8Array, list: Box): readonly Edit[] | null {
  const count = readU32(bytes, list.content + 4);
  if (count < 1 || count > 2) return null;
  const [size, wide] = isLong(bytes, list) ? [20, 8] : [12, 4];
  return Array.from({ length: count }, (_, index) => {
    const at = list.content + 8 + index * size;
    // Of a time of 64 bits the lower half tells the one that stands for nothing as well.
    return { at, duration: readTime(bytes, list, at), mediaTime: readU32(bytes, at + 2 * wide - 4) };
  });
}

const isLong = (bytes: Uint8Array, box: Box): boolean => bytes[box.content] === 1;

/** Times have 64 bits where the version of their box is 1. */
const readTime = (bytes: Uint8Array, box: Box, at: number): number =>
  isLong(bytes, box) ? readU64(bytes, at) : readU32(bytes, at);

function writeTime(bytes: Uint8Array, box: Box, at: number, time: number): void {
  bytes.set(isLong(bytes, box) ? concat([u32(Math.floor(time / 2 ** 32)), u32(time)]) : u32(time), at);
}

/** Units of time in a second. @param header of a movie, or of a track's media */
const timescaleOf = (bytes: Uint8Array, header: Box): number =>
  readU32(bytes, header.content + (isLong(bytes, header) ? 20 : 12));

/** Where the header of a track says how long it plays. */
const trackDuration = (bytes: Uint8Array, track: Box): number =>
  track.content + (isLong(bytes, track) ? 28 : 20);

function handlerOf(bytes: Uint8Array, trak: Box): string {
  const handler = findPath(bytes, trak, 'mdia', 'hdlr');
  return handler ? readAscii(bytes, handler.content + 8, 4) : '';
}
