import type { Fields } from '$lib/core/items';
import { ascii, concat, fresh, kept, readU32, u24, u32, type ByteSource, type Span } from '$lib/core/bytes';
import { FormatError, type NewPicture, type Rewrite, type TagChanges } from '../format';
import {
  changeVorbisComment,
  commentFields,
  parseVorbisComment,
  vorbisCommentBytes,
} from '../vorbis-comment';
import { BLOCK, FRONT_COVER, LAST_FLAG, MARK, MOST_BLOCK_BYTES, type FlacBlock } from './layout';
import { readFlac } from './reader';

/** Room left for later edits when the old room did not suffice, in bytes. */
const PADDING_BYTES = 4096;
const MOST_PADDING_BYTES = 65_536;

/** Content of a metadata block of the outgoing file: kept from the original, or new. */
interface OutBlock {
  readonly type: number;
  readonly content: Span;
  readonly length: number;
}

/** What its comments say, or null where it has none. @throws {FormatError} when the file cannot be read */
export async function readNative(source: ByteSource): Promise<Fields | null> {
  const { blocks } = await readFlac(source);
  const block = blocks.find(({ type }) => type === BLOCK.vorbisComment);
  return block ? commentFields(parseVorbisComment(await source.read(block.start, block.end))) : null;
}

/**
 * A FLAC file with changed comments and front picture. Other blocks are kept in their order; padding
 * takes up the difference where it can, so that a small edit leaves every offset as it was.
 * @throws {FormatError} when the file cannot be read, or a block would pass 16 MiB
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  const { start, blocks, audioStart } = await readFlac(source);
  const picture = changes.picture ? await pictureOut(source, blocks) : null;
  const out: OutBlock[] = [];
  for (const block of blocks) {
    if (block.type === BLOCK.padding || block === picture?.block) continue;
    if (block.type === BLOCK.vorbisComment) out.push(await commentOut(source, block, changes));
    else
      out.push({ type: block.type, content: kept(block.start, block.end), length: block.end - block.start });
  }
  if (!out.some(({ type }) => type === BLOCK.vorbisComment)) out.splice(1, 0, newComment(changes));
  if (changes.picture) insertPicture(out, newBlock(BLOCK.picture, pictureBytes(changes.picture)));
  const used = 4 + out.reduce((sum, { length }) => sum + 4 + length, 0);
  const room = audioStart - start - used - 4;
  const padding = room >= 0 && room <= MOST_PADDING_BYTES ? room : PADDING_BYTES;
  out.push(newBlock(BLOCK.padding, new Uint8Array(padding)));
  const spans = [
    ...(start > 0 ? [kept(0, start)] : []),
    fresh(ascii(MARK)),
    ...out.flatMap((block, index) => [fresh(header(block, index === out.length - 1)), block.content]),
    kept(audioStart, source.size),
  ];
  return { spans, payload: [{ start: audioStart, end: source.size }] };
}

function header({ type, length }: OutBlock, last: boolean): Uint8Array {
  return concat([Uint8Array.of(type | (last ? LAST_FLAG : 0)), u24(length)]);
}

/** @throws {FormatError} when the content passes what a block's length can say */
function newBlock(type: number, bytes: Uint8Array): OutBlock {
  if (bytes.length > MOST_BLOCK_BYTES) throw new FormatError('tooLarge', 'a FLAC block holds at most 16 MiB');
  return { type, content: fresh(bytes), length: bytes.length };
}

async function commentOut(source: ByteSource, block: FlacBlock, changes: TagChanges): Promise<OutBlock> {
  const old = parseVorbisComment(await source.read(block.start, block.end));
  return newBlock(BLOCK.vorbisComment, vorbisCommentBytes(changeVorbisComment(old, changes.fields)));
}

function newComment(changes: TagChanges): OutBlock {
  const empty = { vendor: new TextEncoder().encode('Lectorum'), entries: [] };
  // Comments hide what a foreign tag before or behind them says, so they get all of it.
  const fields = { ...changes.all, ...changes.fields };
  return newBlock(BLOCK.vorbisComment, vorbisCommentBytes(changeVorbisComment(empty, fields)));
}

/** The picture block that a new front picture replaces: the front cover, else one of no stated role. */
async function pictureOut(
  source: ByteSource,
  blocks: readonly FlacBlock[],
): Promise<{ block: FlacBlock } | null> {
  let other: FlacBlock | null = null;
  for (const block of blocks) {
    if (block.type !== BLOCK.picture) continue;
    const role = readU32(await source.read(block.start, block.start + 4), 0);
    if (role === FRONT_COVER) return { block };
    if (role === 0) other ??= block;
  }
  return other && { block: other };
}

function insertPicture(out: OutBlock[], picture: OutBlock): void {
  const at = out.findIndex(({ type }) => type === BLOCK.picture);
  out.splice(at < 0 ? out.length : at, 0, picture);
}

/** Content of a PICTURE block (RFC 9639, section 8.8). */
function pictureBytes({ mime, width, height, bytes }: NewPicture): Uint8Array {
  const depth = mime === 'image/png' ? 32 : 24;
  return concat([
    u32(FRONT_COVER),
    u32(mime.length),
    ascii(mime),
    u32(0),
    u32(width),
    u32(height),
    u32(depth),
    u32(0),
    u32(bytes.length),
    bytes,
  ]);
}
