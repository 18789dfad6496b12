import type { ByteSource } from '$lib/core/bytes';
import type { NativeRead } from '../format';
import { parseId3, saidById3 } from '../id3';
import { readChunks, type Chunk } from './chunks';
import { orderOf } from './layout';

/** Programs write its name in small letters and in capitals. */
export const isId3Chunk = ({ id }: Pick<Chunk, 'id'>): boolean => /^id3 $/i.test(id);

/** What the ID3v2 tag of a WAV or AIFF file says; null where it has none, or an empty one. @throws {FormatError} */
export async function readNative(source: ByteSource): Promise<NativeRead | null> {
  for await (const chunk of readChunks(source, await orderOf(source))) {
    if (!isId3Chunk(chunk)) continue;
    const tag = parseId3(await source.read(chunk.start, chunk.end));
    return tag && saidById3(tag);
  }
  return null;
}
