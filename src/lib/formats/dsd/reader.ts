import type { ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES, type NativeRead } from '../format';
import { chapterPicture, parseId3, saidById3, type Id3Tag } from '../id3';
import { readDsd, type DsdStructure } from './structure';

/** Its ID3v2 tag; null where it has none. @throws {FormatError} */
export async function readTag(source: ByteSource, { tag }: DsdStructure): Promise<Id3Tag | null> {
  if (!tag) return null;
  const bytes = tag.end - tag.start;
  if (bytes > MOST_TAG_BYTES) throw new FormatError('tooMuch', `a tag of ${bytes} bytes`);
  return parseId3(await source.read(tag.start, tag.end));
}

/** What its ID3v2 tag says; null where it has none, or an empty one. @throws {FormatError} */
export async function readNative(source: ByteSource): Promise<NativeRead | null> {
  const tag = await readTag(source, await readDsd(source, true));
  return tag && saidById3(tag);
}

/** The bytes of one of its chapters' pictures, by their hash. @throws {FormatError} */
export async function readChapterPicture(
  source: ByteSource,
  hash: number,
): Promise<{ readonly mime: string; readonly bytes: Uint8Array } | null> {
  const tag = await readTag(source, await readDsd(source, true));
  return tag && chapterPicture(tag, hash);
}
