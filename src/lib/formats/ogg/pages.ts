import { readAscii, readU32le, type ByteSource } from '$lib/core/bytes';

/** Bytes of a page's header before its lacing values (RFC 3533, section 6). */
const PAGE_HEADER_BYTES = 27;
/** A page is at most 65,307 bytes, so the last one begins in this many at the end. */
const TAIL_BYTES = 65_536;
const MOST_LACING = 255;
const ENDS_STREAM = 4;

/** A page of an Ogg stream. */
export interface OggPage {
  readonly start: number;
  /** First byte of its body. */
  readonly body: number;
  readonly end: number;
  /** Length of each segment; one under 255 ends a packet. */
  readonly lacing: Uint8Array;
  /** Samples up to here as its codec counts them; null where no packet ends on it. */
  readonly granule: number | null;
  /** It says that no page follows. */
  readonly endsStream: boolean;
}

/** The page whose header begins at `at` of these bytes, or null. Offsets count from `offset`. A header may break off. */
function pageAt(bytes: Uint8Array, at: number, offset: number): OggPage | null {
  if (readAscii(bytes, at, 4) !== 'OggS') return null;
  const segments = bytes[at + 26] ?? MOST_LACING;
  const lacing = bytes.subarray(at + PAGE_HEADER_BYTES, at + PAGE_HEADER_BYTES + segments);
  const start = at + offset;
  const body = start + PAGE_HEADER_BYTES + segments;
  const [low, high] = [readU32le(bytes, at + 6), readU32le(bytes, at + 10)];
  return {
    start,
    body,
    end: body + lacing.reduce((sum, size) => sum + size, 0),
    lacing,
    granule: high === 0xffffffff ? null : high * 0x100000000 + low,
    endsStream: ((bytes[at + 5] ?? 0) & ENDS_STREAM) !== 0,
  };
}

/** The page that begins at `start`, or null where none does. */
export async function readPage(source: ByteSource, start: number): Promise<OggPage | null> {
  const head = await source.read(start, Math.min(source.size, start + PAGE_HEADER_BYTES + MOST_LACING));
  return head.length < PAGE_HEADER_BYTES ? null : pageAt(head, 0, start);
}

/** Pages that begin in the tail of a file, the last one first. */
export async function readTailPages(source: ByteSource): Promise<Iterable<OggPage>> {
  const start = Math.max(0, source.size - TAIL_BYTES);
  return pagesBackwards(await source.read(start, source.size), start);
}

function* pagesBackwards(tail: Uint8Array, offset: number): Generator<OggPage> {
  for (let at = tail.length - 4; at >= 0; at--) {
    const page = tail[at] === 0x4f ? pageAt(tail, at, offset) : null;
    if (page) yield page;
  }
}
