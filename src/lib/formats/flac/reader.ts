import { readAscii, readU24, type ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES, limitParts, type NativeRead } from '../format';
import { parseVorbisComment, readComment } from '../vorbis-comment';
import { readId3 } from '../id3';
import { BLOCK, LAST_FLAG, MARK, type FlacBlock, type FlacStructure } from './layout';

/** Metadata blocks of one file: a handful, or one picture more than anybody looks at. */
const MOST_BLOCKS = 1000;

/**
 * Where a FLAC file's metadata blocks and its sound lie (RFC 9639, sections 6 and 8).
 * @throws {FormatError} `notThisFormat` without the mark, `cutShort` when the blocks pass the end
 */
export async function readFlac(source: ByteSource): Promise<FlacStructure> {
  const start = (await readId3(source))?.size ?? 0;
  if (readAscii(await source.read(start, start + 4), 0, 4) !== MARK)
    throw new FormatError('notThisFormat', 'no fLaC mark');
  const blocks: FlacBlock[] = [];
  let at = start + 4;
  for (let last = false; !last;) {
    const header = await source.read(at, at + 4);
    if (header.length < 4) throw new FormatError('cutShort', 'the metadata blocks have no end');
    limitParts(blocks.length, 'metadata blocks', MOST_BLOCKS);
    last = ((header[0] as number) & LAST_FLAG) !== 0;
    const block = { type: (header[0] as number) & 0x7f, start: at + 4, end: at + 4 + readU24(header, 1) };
    if (block.end > source.size)
      throw new FormatError('cutShort', 'a metadata block passes the end of the file');
    if (block.end - start > MOST_TAG_BYTES) throw new FormatError('tooMuch', 'over 32 MiB of metadata');
    blocks.push(block);
    at = block.end;
  }
  if (blocks[0]?.type !== BLOCK.streamInfo)
    throw new FormatError('damaged', 'STREAMINFO does not come first');
  return { start, blocks, audioStart: at };
}

/** What its comments say; null where it has none. @throws {FormatError} with more of them than real files have */
export async function readFlacComments(
  source: ByteSource,
  { blocks }: FlacStructure,
): Promise<NativeRead | null> {
  const block = blocks.find(({ type }) => type === BLOCK.vorbisComment);
  return block ? readComment(parseVorbisComment(await source.read(block.start, block.end))) : null;
}
