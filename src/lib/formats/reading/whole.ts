import { readAscii, readU32, readU32le, type ByteSource } from '$lib/core/bytes';
import type { FormatId } from '$lib/core/items';
import { FormatError } from '../format';
import { readFlac } from '../flac';
import { readId3 } from '../id3';
import { readTopBoxes } from '../mp4';
import { readMissingBytes } from '../ogg';

/**
 * Looks whether the end of the file is there, from what its own headers say of its length. Matroska
 * is checked where its structure is read.
 * @throws {FormatError} `damaged` when it is cut short
 */
export async function checkWhole(source: ByteSource, format: FormatId): Promise<void> {
  switch (format) {
    case 'wav':
      return checkWav(source);
    case 'aiff':
      return checkAiff(source);
    case 'flac':
      return checkFlac(source);
    case 'mp3':
      return checkMp3(source);
    case 'mp4':
      await readTopBoxes(source);
      return;
    case 'vorbis':
    case 'opus':
      return checkOgg(source);
    case 'matroska':
  }
}

const cut = (missing: number) => new FormatError('damaged', `its end is missing, about ${missing} bytes`);

async function checkWav(source: ByteSource): Promise<void> {
  const head = await source.read(0, 8);
  const says = readU32le(head, 4) + 8;
  // Streamed files leave the length open; RF64 keeps it elsewhere.
  if (readAscii(head, 0, 4) === 'RIFF' && says < 0xfffffff0 && says > source.size + 1)
    throw cut(says - source.size);
}

async function checkAiff(source: ByteSource): Promise<void> {
  const says = readU32(await source.read(0, 8), 4) + 8;
  if (says > source.size + 1) throw cut(says - source.size);
}

/** The least bytes that the frames can take: their count times the smallest frame (RFC 9639, section 8.2). */
async function checkFlac(source: ByteSource): Promise<void> {
  const { blocks, audioStart } = await readFlac(source);
  const info = await source.read(blocks[0]?.start ?? 0, blocks[0]?.end ?? 0);
  const blockSize = ((info[2] ?? 0) << 8) | (info[3] ?? 0);
  const leastFrame = ((info[4] ?? 0) << 16) | ((info[5] ?? 0) << 8) | (info[6] ?? 0);
  const samples = ((info[13] ?? 0) & 0x0f) * 0x100000000 + readU32(info, 14);
  const least = blockSize > 0 ? Math.floor(samples / blockSize) * leastFrame : 0;
  const has = source.size - audioStart;
  if (least > has) throw cut(least - has);
  if (has === 0 && samples > 0) throw cut(1);
}

async function checkOgg(source: ByteSource): Promise<void> {
  const missing = await readMissingBytes(source);
  if (missing !== 0) throw cut(missing ?? 1);
}

/** The Xing or Info header in the first frame may count the bytes of the whole stream. */
async function checkMp3(source: ByteSource): Promise<void> {
  const tag = await readId3(source);
  const start = tag?.size ?? 0;
  if (start >= source.size) throw new FormatError('damaged', 'nothing follows its tag');
  const head = await source.read(start, start + 256);
  for (let at = 4; at < 64; at++) {
    const mark = readAscii(head, at, 4);
    if (mark !== 'Xing' && mark !== 'Info') continue;
    const flags = readU32(head, at + 4);
    if (!(flags & 2)) return;
    const says = start + readU32(head, at + 8 + (flags & 1 ? 4 : 0));
    if (says > source.size + 4096) throw cut(says - source.size);
    return;
  }
}
