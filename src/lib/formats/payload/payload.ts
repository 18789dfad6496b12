import { readAscii, readU32, readU32le, type ByteRange, type ByteSource } from '$lib/core/bytes';
import type { FormatId } from '$lib/core/items';
import { WRITABLE } from '../index';
import { clusterRanges } from '../matroska';
import { HEADER_PACKETS } from '../ogg';

/** Header packets before the sound: identification and comments, and Vorbis' codebooks (RFC 7845, section 5; Vorbis I, section 4.2). */
const PAGE_HEADER = 27;

/**
 * Where the sound and picture samples of a file lie, in order: what stays the same when only its tags change.
 * Two files with equal bytes there hold the same recording, whatever their tags and names.
 * @throws {FormatError} when the structure cannot be read
 */
export async function* payloadRanges(source: ByteSource, format: FormatId): AsyncGenerator<ByteRange> {
  switch (format) {
    case 'wav':
      return yield* chunk(source, 'data', readU32le);
    case 'aiff':
      return yield* chunk(source, 'SSND', readU32);
    case 'opus':
    case 'vorbis':
      return yield* pages(source, HEADER_PACKETS[format]);
    case 'matroska':
      return yield* clusterRanges(source);
    default: {
      const writer = await WRITABLE.get(format)?.load();
      if (!writer) return;
      yield* (await writer.rewrite(source, { fields: {}, picture: null })).payload;
    }
  }
}

/** The content of one chunk of a RIFF or IFF file; chunks are padded to even lengths. */
async function* chunk(
  source: ByteSource,
  id: string,
  readSize: (bytes: Uint8Array, at: number) => number,
): AsyncGenerator<ByteRange> {
  for (let at = 12; at + 8 <= source.size;) {
    const head = await source.read(at, at + 8);
    // RF64 leaves the size of the sound open, as a stream does: it goes to the end.
    const size = Math.min(readSize(head, 4), source.size - at - 8);
    if (readAscii(head, 0, 4) === id) yield { start: at + 8, end: at + 8 + size };
    at += 8 + size + (size % 2);
  }
}

/** Bodies of the pages behind the header packets, whose own numbers and checksums change with the tags (RFC 3533, section 6). */
async function* pages(source: ByteSource, headers: number): AsyncGenerator<ByteRange> {
  let packets = 0;
  for (let at = 0; at + PAGE_HEADER <= source.size;) {
    const head = await source.read(at, Math.min(source.size, at + PAGE_HEADER + 255));
    if (readAscii(head, 0, 4) !== 'OggS') return;
    const segments = head[26] ?? 0;
    const lacing = head.subarray(PAGE_HEADER, PAGE_HEADER + segments);
    const start = at + PAGE_HEADER + segments;
    const end = start + lacing.reduce((sum, size) => sum + size, 0);
    if (packets >= headers) yield { start, end: Math.min(end, source.size) };
    // A lacing value under 255 ends a packet.
    else packets += lacing.filter((size) => size < 255).length;
    at = end;
  }
}
