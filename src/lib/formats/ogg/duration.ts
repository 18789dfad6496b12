import { readAscii, readU32le, type ByteSource } from '$lib/core/bytes';

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

/**
 * Bytes that are missing behind the last page, 0 when it is whole. Null when no page begins in the
 * tail, which no whole file shows.
 */
export async function readMissingBytes(source: ByteSource): Promise<number | null> {
  const start = Math.max(0, source.size - TAIL_BYTES);
  const tail = await source.read(start, source.size);
  for (let at = tail.length - 4; at >= 0; at--) {
    if (tail[at] !== 0x4f || readAscii(tail, at, 4) !== 'OggS') continue;
    const segments = tail[at + 26] ?? 255;
    const lacing = tail.subarray(at + 27, at + 27 + segments);
    const length = 27 + segments + lacing.reduce((sum, bytes) => sum + bytes, 0);
    return Math.max(0, at + length - tail.length);
  }
  return null;
}

/** Samples to skip at the start of an Opus stream, from its first page (RFC 7845, section 5.1). */
export async function readPreSkip(source: ByteSource): Promise<number> {
  const head = await source.read(0, 64);
  const packet = 27 + (head[26] ?? 0);
  return (head[packet + 10] ?? 0) | ((head[packet + 11] ?? 0) << 8);
}
