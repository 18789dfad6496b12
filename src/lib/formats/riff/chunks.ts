import { readAscii, readPartHead, readU32, readU32le, type ByteSource } from '$lib/core/bytes';
import { MOST_OUTER_PARTS, limitParts } from '../format';

/** A chunk of a RIFF or IFF file, its content only. */
export interface Chunk {
  readonly id: string;
  readonly start: number;
  /** As far as the file has it. */
  readonly end: number;
  /** Bytes that it says it has. */
  readonly size: number;
}

/** How sizes are written: little-endian in RIFF (WAV), big-endian in IFF (AIFF). */
export type ChunkOrder = 'riff' | 'iff';

export const sizeIn = (bytes: Uint8Array, at: number, order: ChunkOrder): number =>
  order === 'riff' ? readU32le(bytes, at) : readU32(bytes, at);

/** Stands for a size that does not fit, and is said elsewhere (EBU Tech 3306, section 3). */
export const SIZE_ELSEWHERE = 0xffffffff;
/** The chunk of RF64 that says them: that of the file, then that of the sound, 64 bits each. */
export const SIZES_CHUNK = 'ds64';

/**
 * The chunks inside the outermost one, in order; they are padded to even lengths. One that passes the end of the file
 * is the last: streams leave the size of the sound open.
 * @throws {FormatError} `tooMuch` with more chunks than real files have
 */
export async function* readChunks(source: ByteSource, order: ChunkOrder): AsyncGenerator<Chunk> {
  let count = 0;
  let sound: number | null = null;
  for (let at = 12; at + 8 <= source.size;) {
    limitParts(++count, 'chunks', MOST_OUTER_PARTS);
    const head = await readPartHead(source, count, at, at + 8);
    const id = readAscii(head, 0, 4);
    const start = at + 8;
    let size = sizeIn(head, 4, order);
    if (id === SIZES_CHUNK) sound = await soundSize(source, start);
    if (id === 'data' && size === SIZE_ELSEWHERE && sound !== null) size = sound;
    yield { id, start, end: Math.min(source.size, start + size), size };
    at = start + size + (size % 2);
  }
}

/** Exact up to 2^53 bytes. */
async function soundSize(source: ByteSource, start: number): Promise<number | null> {
  const sizes = await source.read(start, start + 16);
  return sizes.length < 16 ? null : readU32le(sizes, 8) + readU32le(sizes, 12) * 0x100000000;
}
