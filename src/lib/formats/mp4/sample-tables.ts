import { readU32, readU64, type ByteRange } from '$lib/core/bytes';
import { FormatError } from '../format';
import { findBox, findPath, parseBoxes, type Box } from './boxes';

/* Where a track's samples lie, and when each begins: the tables of `stbl` (ISO/IEC 14496-12, sections 8.6.1 and 8.7). */

interface SampleTables {
  readonly sizes: Box;
  readonly runs: Box;
  /** Counts as far as their boxes have room for them: what a header says beyond is a lie. */
  readonly chunks: number;
  readonly runCount: number;
  /** First byte of a chunk in the file, counted from 0. */
  offsetOf(chunk: number): number;
}

function readTables(bytes: Uint8Array, table: Box): SampleTables | null {
  const boxes = parseBoxes(bytes, table.content, table.end);
  const sizes = findBox(boxes, 'stsz');
  const runs = findBox(boxes, 'stsc');
  const short = findBox(boxes, 'stco');
  const offsets = short ?? findBox(boxes, 'co64');
  if (!sizes || !runs || !offsets) return null;
  const width = short ? 4 : 8;
  const counted = (box: Box, entryBytes: number) =>
    Math.min(readU32(bytes, box.content + 4), Math.floor((box.end - box.content - 8) / entryBytes));
  return {
    sizes,
    runs,
    chunks: counted(offsets, width),
    runCount: counted(runs, 12),
    offsetOf: (chunk) => {
      const at = offsets.content + 8 + chunk * width;
      return short ? readU32(bytes, at) : readU64(bytes, at);
    },
  };
}

/** Bytes of all samples of a track (section 8.7.3). */
export function sampleBytes(bytes: Uint8Array, table: Box): number {
  const box = findPath(bytes, table, 'stsz');
  if (!box) return 0;
  const uniform = readU32(bytes, box.content + 4);
  if (uniform > 0) return uniform * readU32(bytes, box.content + 8);
  let sum = 0;
  for (let at = box.content + 12; at + 4 <= box.end; at += 4) sum += readU32(bytes, at);
  return sum;
}

/** End of a track's last chunk: where it begins, and the sizes of the last samples (sections 8.7.3 to 8.7.5). */
export function lastChunkEnd(bytes: Uint8Array, table: Box): number {
  const tables = readTables(bytes, table);
  if (!tables || tables.chunks === 0) return 0;
  const { sizes, runs, chunks, runCount, offsetOf } = tables;
  const inChunk = runCount > 0 ? readU32(bytes, runs.content + 8 + (runCount - 1) * 12 + 4) : 0;
  const uniform = readU32(bytes, sizes.content + 4);
  const all = readU32(bytes, sizes.content + 8);
  const start = offsetOf(chunks - 1);
  if (uniform > 0) return start + uniform * Math.min(inChunk, all);
  const known = Math.min(all, Math.floor((sizes.end - sizes.content - 12) / 4));
  let length = 0;
  for (let sample = Math.max(0, known - inChunk); sample < known; sample++)
    length += readU32(bytes, sizes.content + 12 + sample * 4);
  return start + length;
}

/** Start of each sample in units of the track's timescale, from `stts`. */
export function readStarts(bytes: Uint8Array, table: Box, most: number): number[] {
  const times = findPath(bytes, table, 'stts');
  if (!times) return [];
  const starts: number[] = [];
  let time = 0;
  for (let at = times.content + 8; at + 8 <= times.end && starts.length < most; at += 8) {
    const count = readU32(bytes, at);
    const delta = readU32(bytes, at + 4);
    for (let i = 0; i < count && starts.length < most; i++, time += delta) starts.push(time);
  }
  return starts;
}

/** A sample's first byte in the file, counted from 0, and its length in bytes. */
export interface ChunkRange {
  readonly start: number;
  readonly size: number;
}

/** Where each sample lies in the file, from `stsz`, `stsc` and the chunk offsets. */
export function readPlaces(bytes: Uint8Array, table: Box, count: number): ChunkRange[] {
  const tables = readTables(bytes, table);
  if (!tables) return [];
  const { sizes, runs, chunks, runCount, offsetOf } = tables;
  const uniform = readU32(bytes, sizes.content + 4);
  const places: ChunkRange[] = [];
  let run = 0;
  for (let chunk = 1; chunk <= chunks && places.length < count; chunk++) {
    while (run + 1 < runCount && readU32(bytes, runs.content + 8 + (run + 1) * 12) <= chunk) run++;
    let start = offsetOf(chunk - 1);
    const inChunk = readU32(bytes, runs.content + 8 + run * 12 + 4);
    for (let i = 0; i < inChunk && places.length < count; i++) {
      const size = uniform || readU32(bytes, sizes.content + 12 + places.length * 4);
      places.push({ start, size });
      start += size;
    }
  }
  return places;
}

/** Gives every chunk offset its new value, in place. */
export function moveOffsets(moov: Uint8Array, move: (offset: number) => number): void {
  const view = new DataView(moov.buffer, moov.byteOffset, moov.byteLength);
  const whole: Box = { type: 'moov', start: 0, content: 8, end: moov.length };
  for (const trak of parseBoxes(moov, whole.content, whole.end).filter(({ type }) => type === 'trak')) {
    const table = findPath(moov, trak, 'mdia', 'minf', 'stbl');
    if (!table) continue;
    for (const box of parseBoxes(moov, table.content, table.end)) {
      if (box.type === 'stco') shiftTable(box, 4);
      else if (box.type === 'co64') shiftTable(box, 8);
      else if (box.type === 'saio')
        throw new FormatError('foreignTags', 'protected samples, whose offsets cannot be moved');
    }
  }

  function shiftTable(box: Box, width: 4 | 8): void {
    const count = readU32(moov, box.content + 4);
    for (let i = 0; i < count; i++) {
      const at = box.content + 8 + i * width;
      if (at + width > box.end) throw new FormatError('damaged', 'a table of offsets passes its box');
      const offset = width === 4 ? readU32(moov, at) : readU64(moov, at);
      const moved = move(offset);
      if (moved === offset) continue;
      if (width === 4 && moved > 0xffffffff) throw new FormatError('tooLarge', 'an offset would pass 4 GiB');
      if (width === 4) view.setUint32(at, moved);
      else view.setBigUint64(at, BigInt(moved));
    }
  }
}

/** What is left of a range without holes, which are told in their order. */
export function around(from: number, to: number, holes: readonly ByteRange[]): readonly ByteRange[] {
  const starts = [from, ...holes.map(({ end }) => end)];
  return starts
    .map((start, index) => ({ start, end: holes[index]?.start ?? to }))
    .filter(({ start, end }) => end > start);
}
