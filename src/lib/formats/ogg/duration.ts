import { concat, readAscii, readU32le, type ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES, limitParts } from '../format';

/** An Ogg page is at most 65,307 bytes (RFC 3533, section 6), so the last one begins in here. */
const TAIL_BYTES = 65_536;
/** Opus counts at 48 kHz whatever was recorded (RFC 7845, section 4). */
const OPUS_RATE = 48_000;

/**
 * Length of an Ogg stream in seconds, from the granule position of its last page: one slice at the end.
 * Null when the last page is missing, as in a file cut short.
 * @param rate sample rate of a Vorbis stream in hertz; null for Opus
 * @param preSkip samples of Opus that are decoded and thrown away
 */
export async function readOggDuration(
  source: ByteSource,
  rate: number | null,
  preSkip = 0,
): Promise<number | null> {
  const start = Math.max(0, source.size - TAIL_BYTES);
  const tail = await source.read(start, source.size);
  for (let at = tail.length - 27; at >= 0; at--) {
    if (tail[at] !== 0x4f || readAscii(tail, at, 4) !== 'OggS' || tail[at + 4] !== 0) continue;
    const low = readU32le(tail, at + 6);
    const high = readU32le(tail, at + 10);
    if (high === 0xffffffff) continue;
    const samples = high * 0x100000000 + low;
    return rate === null ? Math.max(0, samples - preSkip) / OPUS_RATE : samples / rate;
  }
  return null;
}

export interface LastPage {
  /** Bytes that are missing behind its beginning, 0 when it is whole. */
  readonly missing: number;
  /** It says that no page follows. */
  readonly endsStream: boolean;
}

/** The last page that begins in the file. Null when none begins in the tail, which no whole file shows. */
export async function readLastPage(source: ByteSource): Promise<LastPage | null> {
  const start = Math.max(0, source.size - TAIL_BYTES);
  const tail = await source.read(start, source.size);
  for (let at = tail.length - 4; at >= 0; at--) {
    if (tail[at] !== 0x4f || readAscii(tail, at, 4) !== 'OggS') continue;
    const segments = tail[at + 26] ?? 255;
    const lacing = tail.subarray(at + 27, at + 27 + segments);
    // A header that breaks off counts for more than nothing.
    const length = 27 + segments + lacing.reduce((sum, bytes) => sum + bytes, 0);
    return { missing: Math.max(0, at + length - tail.length), endsStream: ((tail[at + 5] ?? 0) & 4) !== 0 };
  }
  return null;
}

/** Pages that the header packets may take: a comment packet with a picture has a few hundred. */
const MOST_HEADER_PAGES = 2000;

/**
 * Header packets before the sound: identification and comments, and Vorbis' codebooks (RFC 7845, section 5; Vorbis I,
 * section 4.2.1).
 */
export const HEADER_PACKETS = { opus: 2, vorbis: 3 } as const;

export interface HeaderPackets {
  readonly packets: readonly Uint8Array[];
  /** Where they end: the first page behind them. */
  readonly end: number;
}

/**
 * The header packets of a stream, which hold all of its tags (RFC 3533, section 6, for how packets lie in pages).
 * @param count header packets of the codec
 * @throws {FormatError} `tooMuch` when they have no end, `cutShort` when the file ends before they do
 */
export async function readHeaderPackets(source: ByteSource, count: number): Promise<HeaderPackets> {
  const packets: Uint8Array[] = [];
  let pieces: Uint8Array[] = [];
  let at = 0;
  for (let page = 0; packets.length < count; page++) {
    limitParts(page, 'pages before the sound', MOST_HEADER_PAGES);
    const head = await source.read(at, at + 27 + 255);
    if (readAscii(head, 0, 4) !== 'OggS') throw new FormatError('cutShort', 'its header packets have no end');
    const lacing = head.subarray(27, 27 + (head[26] ?? 0));
    const start = at + 27 + lacing.length;
    at = start + lacing.reduce((sum, size) => sum + size, 0);
    if (at > MOST_TAG_BYTES) throw new FormatError('tooMuch', 'over 32 MiB before the sound');
    const body = await source.read(start, at);
    let from = 0;
    for (const size of lacing) {
      pieces.push(body.subarray(from, from + size));
      from += size;
      if (size === 255) continue;
      packets.push(concat(pieces));
      pieces = [];
    }
  }
  return { packets: packets.slice(0, count), end: Math.min(at, source.size) };
}

/** Samples to skip at the start of an Opus stream, from its first page (RFC 7845, section 5.1). */
export async function readPreSkip(source: ByteSource): Promise<number> {
  const head = await source.read(0, 64);
  const packet = 27 + (head[26] ?? 0);
  return (head[packet + 10] ?? 0) | ((head[packet + 11] ?? 0) << 8);
}
