import type { ByteSource } from '$lib/core/bytes';
import type { NativeRead } from '../format';
import { chapterPicture, parseId3, saidById3, type Id3Tag } from '../id3';
import { readChunks, type Chunk } from './chunks';
import { orderOf } from './layout';

/** Programs write its name in small letters and in capitals. */
export const isId3Chunk = ({ id }: Pick<Chunk, 'id'>): boolean => /^id3 $/i.test(id);

/** What the ID3v2 tag of a WAV or AIFF file says; null where it has none, or an empty one. @throws {FormatError} */
export async function readNative(source: ByteSource): Promise<NativeRead | null> {
  const tag = await findTag(source);
  return tag && saidById3(tag);
}

/** The bytes of one of its chapters' pictures, by their hash. @throws {FormatError} */
export async function readChapterPicture(
  source: ByteSource,
  hash: number,
): Promise<{ readonly mime: string; readonly bytes: Uint8Array } | null> {
  const tag = await findTag(source);
  return tag && chapterPicture(tag, hash);
}

async function findTag(source: ByteSource): Promise<Id3Tag | null> {
  for await (const chunk of readChunks(source, await orderOf(source)))
    if (isId3Chunk(chunk)) return parseId3(await source.read(chunk.start, chunk.end));
  return null;
}
