import {
  fresh,
  kept,
  readAscii,
  spansLength,
  u32le,
  type ByteRange,
  type ByteSource,
  type Span,
} from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES, type Rewrite, type TagChanges } from '../format';
import { parseId3, writeId3 } from '../id3';
import { SIZES_CHUNK, SIZE_ELSEWHERE, readChunks, sizeIn, type Chunk, type ChunkOrder } from './chunks';
import { HEADER_BYTES, chunkBytes, orderOf, sizeBytes } from './layout';
import { isId3Chunk } from './reader';
import { aiffText, changeInfo, changedAiffText, isInfo } from './texts';

/** Names of the chunk that holds samples. */
const SOUND: Readonly<Record<ChunkOrder, string>> = { riff: 'data', iff: 'SSND' };
/** Name under which a new tag goes in. */
const TAG: Readonly<Record<ChunkOrder, string>> = { riff: 'id3 ', iff: 'ID3 ' };

/**
 * A WAV or AIFF file with a changed ID3v2 tag, and its own texts in step where it has them. All other chunks stay in
 * their order, byte for byte; a new tag goes to the end, or before sound that does not say where it ends.
 * @throws {FormatError} `tooLarge` when it would pass the 4 GiB that its size can say
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  const order = await orderOf(source);
  const spans: Span[] = [];
  const payload: ByteRange[] = [];
  let isTagged = false;
  const said = new Set<string>();
  let end = HEADER_BYTES;
  for await (const chunk of readChunks(source, order)) {
    const isOpen = chunk.end < chunk.start + chunk.size;
    // A tag that is cut short itself gives way to the new one.
    if (isOpen && !isTagged && !isId3Chunk(chunk))
      spans.push(fresh(await tagChunk(source, null, order, changes)));
    if (chunk.id === SOUND[order]) payload.push({ start: chunk.start, end: chunk.end });
    if (isId3Chunk(chunk) && !isTagged) spans.push(fresh(await tagChunk(source, chunk, order, changes)));
    else spans.push(...(await others(source, chunk, order, changes, said)));
    isTagged ||= isOpen || isId3Chunk(chunk);
    end = Math.min(source.size, chunk.start + chunk.size + (chunk.size % 2));
  }
  if (!isTagged) spans.push(fresh(await tagChunk(source, null, order, changes)));
  // A few bytes that make no chunk.
  if (end < source.size) spans.push(kept(end, source.size));
  return { spans: [...(await header(source, spans, order)), ...spans], payload };
}

async function tagChunk(
  source: ByteSource,
  chunk: Chunk | null,
  order: ChunkOrder,
  changes: TagChanges,
): Promise<Uint8Array> {
  if (chunk && chunk.size > MOST_TAG_BYTES) throw new FormatError('tooMuch', `a tag of ${chunk.size} bytes`);
  const old = chunk && parseId3(await source.read(chunk.start, chunk.end));
  return chunkBytes(chunk?.id ?? TAG[order], writeId3(old, changes), order);
}

/** A chunk as it is, or with what is changed of a text that it holds. */
async function others(
  source: ByteSource,
  chunk: Chunk,
  order: ChunkOrder,
  { fields, all }: TagChanges,
  said: Set<string>,
): Promise<readonly Span[]> {
  const { id, start, end, size } = chunk;
  const isWhole = end === start + size && size <= MOST_TAG_BYTES;
  if (order === 'iff' && isWhole) {
    const text = changedAiffText(id, fields);
    // Where it was said in several chunks, one says it from now on.
    const isFirst = !said.has(id);
    if (text !== undefined) said.add(id);
    if (text !== undefined) return text === null || !isFirst ? [] : [fresh(aiffText(id, text))];
  }
  if (order === 'riff' && id === 'LIST' && isWhole) {
    const list = await source.read(start, end);
    const next = isInfo(list) ? changeInfo(list, fields, all) : list;
    if (next !== list) return [fresh(chunkBytes(id, next, order))];
  }
  const padded = start + size + (size % 2);
  // The last chunk may have left its closing byte out: something follows now.
  const closing = end === start + size && padded > source.size ? [fresh(new Uint8Array(1))] : [];
  return [kept(start - 8, Math.min(padded, source.size)), ...closing];
}

/** The outermost chunk's header, with the size that the file has now; one that leaves it open stays so. */
async function header(source: ByteSource, spans: Span[], order: ChunkOrder): Promise<readonly Span[]> {
  const head = await source.read(0, HEADER_BYTES);
  const size = HEADER_BYTES + spansLength(spans) - 8;
  const said = sizeIn(head, 4, order);
  if (readAscii(head, 0, 4) === 'RF64') {
    await sayLongSize(source, spans, size);
    return [kept(0, HEADER_BYTES)];
  }
  if (order === 'riff' && (said === SIZE_ELSEWHERE || said === 0)) return [kept(0, HEADER_BYTES)];
  if (size >= SIZE_ELSEWHERE) throw new FormatError('tooLarge', 'such a file holds at most 4 GiB');
  return [kept(0, 4), fresh(sizeBytes(size, order)), kept(8, HEADER_BYTES)];
}

/** RF64 says its size in a chunk of its own, which comes first (EBU Tech 3306, section 3). */
async function sayLongSize(source: ByteSource, spans: Span[], size: number): Promise<void> {
  const [first] = spans;
  const at = HEADER_BYTES + 8;
  const id = readAscii(await source.read(HEADER_BYTES, at), 0, 4);
  if (first?.type !== 'kept' || id !== SIZES_CHUNK)
    throw new FormatError('damaged', 'RF64 without its sizes');
  spans.splice(
    0,
    1,
    kept(first.start, at),
    fresh(u32le(size % 0x100000000)),
    fresh(u32le(Math.floor(size / 0x100000000))),
    kept(at + 8, first.end),
  );
}
