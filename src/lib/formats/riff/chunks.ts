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

/**
 * The chunks inside the outermost one, in order; they are padded to even lengths. One that passes the end of the file
 * is the last: RF64 and streams leave the size of the sound open.
 * @throws {FormatError} `tooMuch` with more chunks than real files have
 */
export async function* readChunks(source: ByteSource, order: ChunkOrder): AsyncGenerator<Chunk> {
  let count = 0;
  for (let at = 12; at + 8 <= source.size;) {
    limitParts(++count, 'chunks', MOST_OUTER_PARTS);
    const head = await readPartHead(source, count, at, at + 8);
    const size = sizeIn(head, 4, order);
    const start = at + 8;
    yield { id: readAscii(head, 0, 4), start, end: Math.min(source.size, start + size), size };
    at = start + size + (size % 2);
  }
}
