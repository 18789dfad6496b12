import { concat, readAscii, readU16le, type ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES, limitParts } from '../format';
import { readPage, readTailPages } from './pages';

/** Opus counts at 48 kHz whatever was recorded (RFC 7845, section 4). */
const OPUS_RATE = 48_000;

/** Codecs that are known inside Ogg. */
export type OggCodec = 'opus' | 'vorbis' | 'oggFlac';

/** The codec as the first packet names it (RFC 7845, section 5.1; Vorbis I, section 4.2.1; RFC 9639, section 10.1). */
export function codecOf(firstPacket: Uint8Array): OggCodec | null {
  if (readAscii(firstPacket, 0, 8) === 'OpusHead') return 'opus';
  if (readAscii(firstPacket, 1, 6) === 'vorbis') return 'vorbis';
  return readAscii(firstPacket, 0, 5) === '\x7fFLAC' ? 'oggFlac' : null;
}

/**
 * Length of an Ogg stream in seconds, from the granule position of its last page: one slice at the end.
 * Null when no page of the tail counts, as in a file cut short.
 * @param rate sample rate of a Vorbis or FLAC stream in hertz; null for Opus
 * @param preSkip samples of Opus that are decoded and thrown away
 */
export async function readOggDuration(
  source: ByteSource,
  rate: number | null,
  preSkip = 0,
): Promise<number | null> {
  for (const { granule } of await readTailPages(source))
    if (granule !== null) return rate === null ? Math.max(0, granule - preSkip) / OPUS_RATE : granule / rate;
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
  const [last] = await readTailPages(source);
  return last ? { missing: Math.max(0, last.end - source.size), endsStream: last.endsStream } : null;
}

/** Pages that the header packets may take: a comment packet with a picture has a few hundred. */
const MOST_HEADER_PAGES = 2000;

export interface HeaderPackets {
  readonly packets: readonly Uint8Array[];
  /** Where they end: the first page behind them. */
  readonly end: number;
  /** They have their pages to themselves, as standards ask: the first one, and all others together. */
  readonly isApart: boolean;
}

/**
 * Packets before the sound, by what the first one says: identification and comments, then Vorbis' codebooks or as many
 * blocks of FLAC as it counts.
 */
function headerCount(firstPacket: Uint8Array): number {
  const codec = codecOf(firstPacket);
  if (codec === 'vorbis') return 3;
  // The mapping's header counts the packets behind it; 0 where it does not know (RFC 9639, section 10.1).
  return codec === 'oggFlac' ? 1 + Math.max(1, ((firstPacket[7] ?? 0) << 8) | (firstPacket[8] ?? 0)) : 2;
}

/**
 * The header packets of a stream, which hold all of its tags (RFC 3533, section 6, for how packets lie in pages).
 * @throws {FormatError} `tooMuch` when they have no end, `cutShort` when the file ends before they do
 */
export async function readHeaderPackets(source: ByteSource): Promise<HeaderPackets> {
  const packets: Uint8Array[] = [];
  let pieces: Uint8Array[] = [];
  let at = 0;
  let count = 1;
  let isApart = true;
  for (let number = 0; packets.length < count; number++) {
    limitParts(number, 'pages before the sound', MOST_HEADER_PAGES);
    const page = await readPage(source, at);
    if (!page) throw new FormatError('cutShort', 'its header packets have no end');
    at = page.end;
    if (at > MOST_TAG_BYTES) throw new FormatError('tooMuch', 'over 32 MiB before the sound');
    const body = await source.read(page.body, at);
    let from = 0;
    for (const size of page.lacing) {
      pieces.push(body.subarray(from, from + size));
      from += size;
      if (size === 255) continue;
      packets.push(concat(pieces));
      if (packets.length === 1) count = headerCount(packets[0] as Uint8Array);
      pieces = [];
    }
    if (number === 0) isApart = packets.length === 1 && pieces.length === 0;
  }
  isApart &&= packets.length === count && pieces.length === 0;
  return { packets: packets.slice(0, count), end: Math.min(at, source.size), isApart };
}

/** What stands before the comments in their packet: `OpusTags`, a type and `vorbis`, or the header of a FLAC block. */
export const COMMENT_MARK_BYTES: Readonly<Record<OggCodec, number>> = { opus: 8, vorbis: 7, oggFlac: 4 };

/** The bytes of the comments among the header packets, or null. */
export function commentBytes({ packets }: HeaderPackets, codec: OggCodec): Uint8Array | null {
  return packets[1]?.subarray(COMMENT_MARK_BYTES[codec]) ?? null;
}

/** Samples to skip at the start of an Opus stream, by its first packet (RFC 7845, section 5.1). */
export function preSkipOf({ packets }: HeaderPackets): number {
  return readU16le(packets[0] ?? new Uint8Array(0), 10);
}
