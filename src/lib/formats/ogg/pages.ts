import { ascii, concat, readAscii, readU32le, u32le, type ByteSource } from '$lib/core/bytes';
import { crcBeforeZeros, crcOf } from './crc';

/** Bytes of a page's header before its lacing values (RFC 3533, section 6). */
const PAGE_HEADER_BYTES = 27;
/** A page is at most 65,307 bytes, so the last one begins in this many at the end. */
const TAIL_BYTES = 65_536;
const MOST_LACING = 255;
const CONTINUES = 1;
const ENDS_STREAM = 4;
/** Where a page's sequence number ends, in bytes from its beginning. */
const SEQUENCE_END = 22;

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
  /** Of the stream that it belongs to. */
  readonly serial: number;
  /** Its place among the pages of its stream, from 0. */
  readonly sequence: number;
  readonly checksum: number;
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
    serial: readU32le(bytes, at + 14),
    sequence: readU32le(bytes, at + 18),
    checksum: readU32le(bytes, at + 22),
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

/** Lengths of the segments of a packet: as many of 255 as it takes, and one under it that ends it. */
function lacingOf(packet: Uint8Array): number[] {
  const full = Math.floor(packet.length / MOST_LACING);
  return [...Array<number>(full).fill(MOST_LACING), packet.length % MOST_LACING];
}

/**
 * Packets of a header in pages of their own, behind each other (RFC 3533, section 6). Their position counts no sound.
 * @param sequence of the first page
 * @param wanted how many pages they are to take, where they can: then those behind them stay as they are
 */
export function headerPages(
  packets: readonly Uint8Array[],
  serial: number,
  sequence: number,
  wanted: number,
): readonly Uint8Array[] {
  const lacing = packets.flatMap(lacingOf);
  const body = concat(packets);
  const least = Math.ceil(lacing.length / MOST_LACING);
  const count = wanted >= least && wanted <= lacing.length ? wanted : least;
  const pages: Uint8Array[] = [];
  for (let index = 0, from = 0, at = 0; index < count; index++) {
    const to = Math.floor((lacing.length * (index + 1)) / count);
    const own = lacing.slice(from, to);
    const end = at + own.reduce((sum, size) => sum + size, 0);
    const continues = from > 0 && lacing[from - 1] === MOST_LACING;
    const completes = own.some((size) => size < MOST_LACING);
    pages.push(
      pageOf(
        continues ? CONTINUES : 0,
        completes ? 0 : null,
        serial,
        sequence + index,
        own,
        body.subarray(at, end),
      ),
    );
    [from, at] = [to, end];
  }
  return pages;
}

function pageOf(
  flags: number,
  granule: 0 | null,
  serial: number,
  sequence: number,
  lacing: readonly number[],
  body: Uint8Array,
): Uint8Array {
  const position = new Uint8Array(8).fill(granule === null ? 0xff : 0);
  const page = concat([
    ascii('OggS'),
    Uint8Array.of(0, flags),
    position,
    u32le(serial),
    u32le(sequence),
    u32le(0),
    Uint8Array.of(lacing.length, ...lacing),
    body,
  ]);
  page.set(u32le(crcOf(page)), SEQUENCE_END);
  return page;
}

/**
 * A page's header up to its checksum with another sequence number. The checksum follows from the old one, whatever
 * stands in the body.
 */
export function renumbered(head: Uint8Array, page: OggPage, sequence: number): Uint8Array {
  const change = u32le((page.sequence ^ sequence) >>> 0);
  const behind = page.end - page.start - SEQUENCE_END;
  const checksum = (page.checksum ^ crcBeforeZeros(crcOf(change), behind)) >>> 0;
  const out = head.slice(0, SEQUENCE_END + 4);
  out.set(u32le(sequence), SEQUENCE_END - 4);
  out.set(u32le(checksum), SEQUENCE_END);
  return out;
}
