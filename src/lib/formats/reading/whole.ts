import { readAscii, readU32, readU32le, type ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES, type NativeRead } from '../format';
import { NOTHING_SAID } from './media-read';
import { endsWhole, type FlacStructure, type StreamInfo } from '../flac';
import { parseId3, saidById3, type Id3Tag } from '../id3';
import { sampleEnd, type Mp4Structure } from '../mp4';
import { readLastPage } from '../ogg';
import { SYNC_SEARCH_BYTES, readFrameHeader, readStreamLength, type FrameHeader } from '../mp3';
import { isId3Chunk, readChunks, type ChunkOrder } from '../riff';

const cut = (missing: number) => new FormatError('cutShort', `its end is missing, about ${missing} bytes`);
const cutSomewhere = (what: string) => new FormatError('cutShort', `its end is missing: ${what}`);

/** @throws {FormatError} `cutShort` when the header says more bytes than there are, `tooMuch` with chunks without end */
export async function checkWav(source: ByteSource): Promise<void> {
  const head = await source.read(0, 8);
  const says = readU32le(head, 4) + 8;
  // Streamed files leave the length open; RF64 keeps it elsewhere.
  if (readAscii(head, 0, 4) === 'RIFF' && says < 0xfffffff0 && says > source.size + 1)
    throw cut(says - source.size);
}

export async function checkAiff(source: ByteSource): Promise<void> {
  const says = readU32(await source.read(0, 8), 4) + 8;
  if (says > source.size + 1) throw cut(says - source.size);
}

/** Chunks that are read whole; all others are passed over. */
const READ_WHOLE = /^(LIST|id3 |ID3 |NAME|AUTH|ANNO|\(c\) |bext|COMM|fmt |fact)$/i;

/**
 * Looks through the chunks of a WAV or AIFF file before anything else reads them.
 * @returns the ID3v2 tag among them that says something, cut short or not, else one that has anything in it
 * @throws {FormatError} `tooMuch`
 */
export async function readChunkTag(source: ByteSource, order: ChunkOrder): Promise<ChunkTag | null> {
  let found: ChunkTag | null = null;
  let silent: ChunkTag | null = null;
  for await (const { id, start, end, size } of readChunks(source, order)) {
    const isTag = isId3Chunk({ id });
    if (!READ_WHOLE.test(id) || (end - start < size && !isTag)) continue;
    if (end - start > MOST_TAG_BYTES)
      throw new FormatError('tooMuch', `a chunk ${id.trim()} of ${size} bytes`);
    const tag: Id3Tag | null = isTag && !found ? parseId3(await source.read(start, end)) : null;
    const said: NativeRead | null = tag && saidById3(tag);
    if (tag && said) found = { tag, said };
    else if (tag && tag.frames.length > 0) silent ??= { tag, said: NOTHING_SAID };
  }
  return found ?? silent;
}

/** A tag, and what it says. */
export interface ChunkTag {
  readonly tag: Id3Tag;
  readonly said: NativeRead;
}

/**
 * The frames that STREAMINFO counts take some least number of bytes (RFC 9639, section 8.2), and the last of them
 * ends the file.
 */
export async function checkFlac(
  source: ByteSource,
  structure: FlacStructure,
  info: StreamInfo,
): Promise<void> {
  const has = source.size - structure.audioStart;
  if (info.samples > 0 && has <= 0) throw cut(1);
  const least = info.blockSize > 0 ? Math.floor(info.samples / info.blockSize) * info.leastFrame : 0;
  if (least > has) throw cut(least - has);
  if ((await endsWhole(source, structure, info)) === false)
    throw cutSomewhere('its last frame of sound is not the last one that its header counts');
}

/** The last page says itself that it is the last (RFC 3533, section 6), and must be there to its end. */
export async function checkOgg(source: ByteSource): Promise<void> {
  const last = await readLastPage(source);
  if (!last) throw cut(1);
  if (last.missing > 0) throw cut(last.missing);
  if (!last.endsStream) throw cutSomewhere('its last page does not end the stream');
}

/** The samples that `moov` tells of must all be there (ISO/IEC 14496-12, section 8.7). */
export function checkMp4(source: ByteSource, structure: Mp4Structure): void {
  const end = sampleEnd(structure);
  if (end > source.size) throw cut(end - source.size);
}

/**
 * The Xing, Info or VBRI header in the first frame may count the bytes of the whole stream. A tag behind the sound is
 * counted by some programs and not by others, so it may count.
 * @param start where the sound begins, in bytes
 */
export async function checkMp3(source: ByteSource, start: number): Promise<void> {
  if (start >= source.size) throw new FormatError('cutShort', 'nothing follows its tag');
  const says = readStreamLength(await source.read(start, start + 512)).bytes;
  if (says !== null && says > source.size - start) throw cut(says - (source.size - start));
}

/**
 * The first frame behind `start`, and its place in bytes.
 * @throws {FormatError} `damaged` when no frame of MPEG sound follows (ISO/IEC 11172-3, section 2.4.2.3)
 */
export async function firstMp3Frame(
  source: ByteSource,
  start: number,
): Promise<{ readonly at: number; readonly header: FrameHeader }> {
  for (const reach of SYNC_SEARCH_BYTES) {
    const head = await source.read(start, start + reach);
    for (let at = 0; at + 3 < head.length; at++) {
      const header = readFrameHeader(head, at);
      if (header) return { at: start + at, header };
    }
  }
  throw new FormatError('damaged', 'no frame of sound follows its tag');
}
