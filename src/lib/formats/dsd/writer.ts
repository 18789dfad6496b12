import {
  ascii,
  concat,
  fresh,
  kept,
  spansLength,
  u32,
  u32le,
  type ByteSource,
  type Span,
} from '$lib/core/bytes';
import type { Rewrite, TagChanges } from '../format';
import { writeId3 } from '../id3';
import { readTag } from './reader';
import { DFF_CHUNK_HEAD, DFF_HEAD, isTagChunk, readDffChunks, readDsd, type DsdStructure } from './structure';

/**
 * A DSF or DFF with a changed ID3v2 tag: at its end, where both have it. All else stays, byte for byte.
 * @throws {FormatError} where its structure cannot be read
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  const structure = await readDsd(source, true);
  const { start, end } = structure.sound;
  const tag = writeId3(await readTag(source, structure), changes);
  const spans = await (structure.format === 'dsf' ? dsfSpans : dffSpans)(source, structure, tag);
  return { spans, payload: [{ start, end: Math.min(end, source.size) }] };
}

const high = (value: number) => Math.floor(value / 2 ** 32);
const u64 = (value: number) => concat([u32(high(value)), u32(value)]);
const u64le = (value: number) => concat([u32le(value), u32le(high(value))]);

/** The first chunk of a DSF says how long all of it is, and where its tag begins. */
function dsfSpans(source: ByteSource, { tag }: DsdStructure, fresher: Uint8Array): Promise<readonly Span[]> {
  const at = tag?.start ?? source.size;
  return Promise.resolve([
    kept(0, 12),
    fresh(concat([u64le(at + fresher.length), u64le(at)])),
    kept(28, at),
    fresh(fresher),
  ]);
}

async function dffSpans(source: ByteSource, _: DsdStructure, fresher: Uint8Array): Promise<readonly Span[]> {
  const spans: Span[] = [];
  const pad = (length: number) => new Uint8Array(length % 2);
  const chunk = () => fresh(concat([ascii('ID3 '), u64(fresher.length), fresher, pad(fresher.length)]));
  let isTagged = false;
  for await (const one of readDffChunks(source, DFF_HEAD, source.size)) {
    const padded = one.end + ((one.end - one.start) % 2);
    if (isTagChunk(one)) {
      if (!isTagged) spans.push(chunk());
      isTagged = true;
      continue;
    }
    spans.push(kept(one.start - DFF_CHUNK_HEAD, Math.min(padded, source.size)));
    // The last chunk may have left its closing byte out: something follows now.
    if (one.end <= source.size && padded > source.size) spans.push(fresh(new Uint8Array(1)));
  }
  if (!isTagged) spans.push(chunk());
  return [kept(0, 4), fresh(u64(4 + spansLength(spans))), kept(12, DFF_HEAD), ...spans];
}
