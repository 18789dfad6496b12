import { codeOfRole, type PictureRole } from '$lib/core/items';
import { ascii, concat, fresh, kept, readU32, u24, type ByteSource, type Span } from '$lib/core/bytes';
import { FormatError, type NativeRead, type NewPicture, type Rewrite, type TagChanges } from '../format';
import {
  changeVorbisComment,
  emptyComment,
  parseVorbisComment,
  pictureBlockBytes,
  vorbisCommentBytes,
} from '../vorbis-comment';
import { BLOCK, LAST_FLAG, MARK, MOST_BLOCK_BYTES, type FlacBlock } from './layout';
import { readFlac, readFlacComments } from './reader';

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
export async function readNative(source: ByteSource): Promise<NativeRead | null> {
  return readFlacComments(source, await readFlac(source));
}

/**
 * A FLAC file with changed comments and pictures. Other blocks are kept in their order; padding
 * takes up the difference where it can, so that a small edit leaves every offset as it was.
 * @throws {FormatError} when the file cannot be read, or a block would pass 16 MiB
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  const { start, blocks, audioStart } = await readFlac(source);
  const pictures = [...(changes.pictures ?? [])].flatMap(([role, picture]) =>
    picture ? [newBlock(BLOCK.picture, pictureBlockBytes(role, picture))] : [],
  );
  const replaced = await picturesOut(source, blocks, changes.pictures ?? new Map());
  const out: OutBlock[] = [];
  for (const block of blocks) {
    if (block.type === BLOCK.padding || replaced.has(block)) continue;
    if (block.type === BLOCK.vorbisComment) out.push(await commentOut(source, block, changes));
    else
      out.push({ type: block.type, content: kept(block.start, block.end), length: block.end - block.start });
  }
  if (!out.some(({ type }) => type === BLOCK.vorbisComment)) out.splice(1, 0, newComment(changes));
  insertPictures(out, pictures);
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
  return newBlock(BLOCK.vorbisComment, vorbisCommentBytes(changeVorbisComment(old, changes)));
}

function newComment(changes: TagChanges): OutBlock {
  // Comments hide what a foreign tag before or behind them says, so they get all of it.
  const fields = { ...changes.all, ...changes.fields };
  return newBlock(
    BLOCK.vorbisComment,
    vorbisCommentBytes(changeVorbisComment(emptyComment(), { ...changes, fields })),
  );
}

/** The picture blocks that new ones replace: those of their roles, for the front else one of no stated role. */
async function picturesOut(
  source: ByteSource,
  blocks: readonly FlacBlock[],
  pictures: ReadonlyMap<PictureRole, NewPicture | null>,
): Promise<ReadonlySet<FlacBlock>> {
  const out = new Set<FlacBlock>();
  if (pictures.size === 0) return out;
  const codes = new Set([...pictures.keys()].map(codeOfRole));
  let front = false;
  let other: FlacBlock | null = null;
  for (const block of blocks) {
    if (block.type !== BLOCK.picture) continue;
    const code = readU32(await source.read(block.start, block.start + 4), 0);
    if (codes.has(code)) out.add(block);
    front ||= code === codeOfRole('front');
    if (code === codeOfRole('other')) other ??= block;
  }
  if (pictures.get('front') && !front && other) out.add(other);
  return out;
}

function insertPictures(out: OutBlock[], pictures: readonly OutBlock[]): void {
  const at = out.findIndex(({ type }) => type === BLOCK.picture);
  out.splice(at < 0 ? out.length : at, 0, ...pictures);
}
