import { readU16, readU32, readU64, type ByteSource } from '$lib/core/bytes';
import { findBox, findPath, parseBoxes, type Box } from './boxes';
import { wholeBox, type Mp4Structure } from './reader';
import { readTimes } from './times';

/** Bytes of one fragment's tables that are read. */
const MOST_FRAGMENT_BYTES = 4 * 1024 * 1024;

/**
 * How long a file of fragments lasts, whose `moov` does not say it: by the length that `mvex` tells, else by its index,
 * else by where its last fragment begins and how long that is (ISO/IEC 14496-12, sections 8.8 and 8.16). Null where
 * none of these says it.
 */
export async function fragmentedSeconds(source: ByteSource, structure: Mp4Structure): Promise<number | null> {
  if (!structure.fragmented) return null;
  const { moovBytes: bytes, top } = structure;
  const moov = wholeBox(structure);
  const header = findPath(bytes, moov, 'mvhd');
  const told = findPath(bytes, moov, 'mvex', 'mehd');
  const scale = header ? readTimes(bytes, header).timescale : 0;
  if (told && scale > 0) {
    const duration =
      bytes[told.content] === 1 ? readU64(bytes, told.content + 4) : readU32(bytes, told.content + 4);
    if (duration > 0) return duration / scale;
  }
  return (await indexSeconds(source, top)) ?? (await lastFragmentSeconds(source, structure));
}

/** The parts of the index, one after the other; of several, each tells of a part alone. */
async function indexSeconds(source: ByteSource, top: readonly Box[]): Promise<number | null> {
  const [box, ...others] = top.filter(({ type }) => type === 'sidx');
  if (!box || others.length > 0 || box.end - box.content > MOST_FRAGMENT_BYTES) return null;
  const bytes = await source.read(box.content, box.end);
  const scale = readU32(bytes, 8);
  const at = 12 + (bytes[0] === 1 ? 16 : 8);
  const count = readU16(bytes, at + 2);
  let duration = 0;
  for (let index = 0, entry = at + 4; index < count && entry + 12 <= bytes.length; index++, entry += 12) {
    // A reference to another index tells of more than one level.
    if ((readU32(bytes, entry) & 0x80000000) !== 0) return null;
    duration += readU32(bytes, entry + 4);
  }
  return scale > 0 && duration > 0 ? duration / scale : null;
}

async function lastFragmentSeconds(source: ByteSource, structure: Mp4Structure): Promise<number | null> {
  const last = structure.top.findLast(({ type }) => type === 'moof');
  if (!last || last.end - last.content > MOST_FRAGMENT_BYTES) return null;
  const bytes = await source.read(last.start, last.end);
  const content = last.content - last.start;
  let seconds: number | null = null;
  for (const traf of parseBoxes(bytes, content, bytes.length).filter(({ type }) => type === 'traf')) {
    const end = endOf(bytes, traf, structure);
    if (end !== null) seconds = Math.max(seconds ?? 0, end);
  }
  return seconds;
}

/** Flags of `tfhd` and `trun` that say which of their parts are there. */
const TFHD = { base: 0x1, description: 0x2, duration: 0x8 } as const;
const TRUN = {
  offset: 0x1,
  firstFlags: 0x4,
  duration: 0x100,
  size: 0x200,
  flags: 0x400,
  composition: 0x800,
} as const;

/** Where the samples of one track's fragment end, seconds; null where it does not say where it begins. */
function endOf(bytes: Uint8Array, traf: Box, structure: Mp4Structure): number | null {
  const children = parseBoxes(bytes, traf.content, traf.end);
  const head = findBox(children, 'tfhd');
  const time = findBox(children, 'tfdt');
  if (!head || !time) return null;
  const flags = readU32(bytes, head.content) & 0xffffff;
  const track = readU32(bytes, head.content + 4);
  let at = head.content + 8;
  if (flags & TFHD.base) at += 8;
  if (flags & TFHD.description) at += 4;
  const usual = flags & TFHD.duration ? readU32(bytes, at) : usualDuration(structure, track);
  const start =
    bytes[time.content] === 1 ? readU64(bytes, time.content + 4) : readU32(bytes, time.content + 4);
  const scale = timescaleOf(structure, track);
  if (scale === null) return null;
  let duration = 0;
  for (const run of children.filter(({ type }) => type === 'trun'))
    duration += runDuration(bytes, run, usual);
  return (start + duration) / scale;
}

function runDuration(bytes: Uint8Array, run: Box, usual: number): number {
  const flags = readU32(bytes, run.content) & 0xffffff;
  const count = readU32(bytes, run.content + 4);
  if (!(flags & TRUN.duration)) return count * usual;
  const each =
    4 * [TRUN.duration, TRUN.size, TRUN.flags, TRUN.composition].filter((flag) => flags & flag).length;
  let at = run.content + 8 + (flags & TRUN.offset ? 4 : 0) + (flags & TRUN.firstFlags ? 4 : 0);
  let duration = 0;
  for (let index = 0; index < count && at + 4 <= run.end; index++, at += each) duration += readU32(bytes, at);
  return duration;
}

function traks({ moovBytes }: Mp4Structure, moov: Box): readonly Box[] {
  return parseBoxes(moovBytes, moov.content, moov.end).filter(({ type }) => type === 'trak');
}

function timescaleOf(structure: Mp4Structure, track: number): number | null {
  const { moovBytes: bytes } = structure;
  for (const trak of traks(structure, wholeBox(structure))) {
    const head = findPath(bytes, trak, 'tkhd');
    const media = findPath(bytes, trak, 'mdia', 'mdhd');
    if (!head || !media || readU32(bytes, head.content + (bytes[head.content] === 1 ? 20 : 12)) !== track)
      continue;
    return readTimes(bytes, media).timescale || null;
  }
  return null;
}

/** How long samples of a track last where a fragment does not say it, by `trex`. */
function usualDuration(structure: Mp4Structure, track: number): number {
  const { moovBytes: bytes } = structure;
  const mvex = findPath(bytes, wholeBox(structure), 'mvex');
  const all = mvex ? parseBoxes(bytes, mvex.content, mvex.end).filter(({ type }) => type === 'trex') : [];
  const own = all.find(({ content }) => readU32(bytes, content + 4) === track);
  return own ? readU32(bytes, own.content + 12) : 0;
}
