import { ascii, concat, readAscii, u32, u32le, type ByteSource } from '$lib/core/bytes';
import type { ChunkOrder } from './chunks';

/** Bytes before the first chunk: the outermost one's name and size, and the form. */
export const HEADER_BYTES = 12;

/** By the outermost chunk: `FORM` in AIFF (EA IFF 85), `RIFF` or `RF64` in WAV. */
export async function orderOf(source: ByteSource): Promise<ChunkOrder> {
  return readAscii(await source.read(0, 4), 0, 4) === 'FORM' ? 'iff' : 'riff';
}

export const sizeBytes = (size: number, order: ChunkOrder): Uint8Array =>
  order === 'riff' ? u32le(size) : u32(size);

/** A chunk with its header, and the byte that makes its length even. */
export const chunkBytes = (id: string, content: Uint8Array, order: ChunkOrder): Uint8Array =>
  concat([ascii(id), sizeBytes(content.length, order), content, new Uint8Array(content.length % 2)]);
