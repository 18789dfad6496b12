import { readU16, readU24, readU32, skim, type ByteSource } from '$lib/core/bytes';
import { ID3V1_BYTES, isId3v1 } from '../id3';
import type { FlacStructure } from './layout';

/** Bytes of the end in which the last frame begins, where the header does not say how large frames are. */
const TAIL_BYTES = 131_072;
const MOST_TAIL_BYTES = 1_048_576;

/** CRC of 16 bits over a frame (RFC 9639, section 9.3): polynomial 0x8005, nothing reflected. */
const CRC16 = table(16, 0x8005);
/** CRC of 8 bits over a frame's header (section 9.1.8): polynomial 0x07. */
const CRC8 = table(8, 0x07);

function table(width: number, polynomial: number): Uint16Array {
  const top = 1 << (width - 1);
  const mask = (1 << width) - 1;
  return Uint16Array.from({ length: 256 }, (_, byte) => {
    let crc = byte << (width - 8);
    for (let bit = 0; bit < 8; bit++) crc = crc & top ? (crc << 1) ^ polynomial : crc << 1;
    return crc & mask;
  });
}

function crc16(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) crc = ((crc << 8) & 0xffff) ^ (CRC16[(crc >> 8) ^ byte] as number);
  return crc;
}

function crc8(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) crc = CRC8[crc ^ byte] as number;
  return crc;
}

export interface StreamInfo {
  /** Samples of one block, where all but the last have as many; 0 where they differ. */
  readonly blockSize: number;
  /** Bytes of the smallest frame, 0 where it is not said. */
  readonly leastFrame: number;
  /** Bytes of the largest frame, 0 where it is not said. */
  readonly mostFrame: number;
  /** Samples of one channel in all, 0 where it is not said. */
  readonly samples: number;
  /** Hertz. */
  readonly sampleRate: number;
  readonly channels: number;
  /** Bits of a sample. */
  readonly bits: number;
}

/** What a STREAMINFO block of 34 bytes says of the sound (RFC 9639, section 8.2). */
export function readStreamInfo(block: Uint8Array): StreamInfo {
  const [least, most] = [readU16(block, 0), readU16(block, 2)];
  return {
    blockSize: least === most ? least : 0,
    leastFrame: readU24(block, 4),
    mostFrame: readU24(block, 7),
    sampleRate: readU24(block, 10) >> 4,
    channels: (((block[12] ?? 0) >> 1) & 7) + 1,
    bits: ((((block[12] ?? 0) & 1) << 4) | ((block[13] ?? 0) >> 4)) + 1,
    samples: ((block[13] ?? 0) & 0x0f) * 0x100000000 + readU32(block, 14),
  };
}

/**
 * Whether the last frame is there to its end: it must reach the last sample that STREAMINFO counts, and its checksum
 * must close the file. Null when the structure does not say how long the file is to be.
 */
export async function endsWhole(
  source: ByteSource,
  { audioStart }: FlacStructure,
  info: StreamInfo,
): Promise<boolean | null> {
  if (info.samples === 0) return null;
  // The last frame is no larger than the largest, and a foreign tag may stand behind it.
  const reach = info.mostFrame > 0 ? Math.min(info.mostFrame + 1024, MOST_TAIL_BYTES) : TAIL_BYTES;
  const start = Math.max(audioStart, source.size - reach - ID3V1_BYTES);
  const all = await skim(source, start, source.size);
  const tail = isId3v1(all.subarray(-ID3V1_BYTES)) ? all.subarray(0, -ID3V1_BYTES) : all;
  for (let at = tail.length - 6; at >= 0; at--) {
    if (tail[at] !== 0xff || ((tail[at + 1] as number) & 0xfe) !== 0xf8) continue;
    const frame = frameAt(tail, at, info.blockSize);
    if (!frame) continue;
    // A header may be met by chance inside a frame: only one that fits its file is believed.
    if (frame.firstSample >= info.samples) continue;
    return frame.firstSample + frame.samples >= info.samples && crc16(tail.subarray(at)) === 0;
  }
  return start > audioStart ? null : false;
}

/** A frame's place in the stream, from a header whose checksum holds (section 9.1); null for anything else. */
function frameAt(
  b: Uint8Array,
  at: number,
  blockSize: number,
): { firstSample: number; samples: number } | null {
  const variable = ((b[at + 1] as number) & 1) === 1;
  const sizeCode = (b[at + 2] as number) >> 4;
  const rateCode = (b[at + 2] as number) & 0x0f;
  if (sizeCode === 0 || rateCode === 15) return null;
  const number = codedNumber(b, at + 4);
  if (!number) return null;
  let next = at + 4 + number.length;
  let samples: number;
  if (sizeCode === 6) samples = (b[next++] ?? 0) + 1;
  else if (sizeCode === 7) {
    samples = readU16(b, next) + 1;
    next += 2;
  } else if (sizeCode === 1) samples = 192;
  else samples = sizeCode <= 5 ? 576 << (sizeCode - 2) : 256 << (sizeCode - 8);
  next += rateCode === 12 ? 1 : rateCode >= 13 ? 2 : 0;
  if (next >= b.length || crc8(b.subarray(at, next)) !== b[next]) return null;
  return { firstSample: variable ? number.value : number.value * (blockSize || samples), samples };
}

/** A number in the manner of UTF-8, up to seven bytes (section 9.1.5). */
function codedNumber(b: Uint8Array, at: number): { value: number; length: number } | null {
  const first = b[at] ?? 0;
  if (first < 0x80) return { value: first, length: 1 };
  const length = Math.clz32(~(first << 24));
  if (length < 2 || length > 7) return null;
  let value = length >= 7 ? 0 : first & (0x7f >> length);
  for (let i = 1; i < length; i++) {
    const byte = b[at + i] ?? 0;
    if ((byte & 0xc0) !== 0x80) return null;
    value = value * 64 + (byte & 0x3f);
  }
  return { value, length };
}
