import { readU16, readU24, readU32 } from '$lib/core/bytes';
import { findBox, parseBoxes } from './boxes';

/** Channels, and samples in a second, of a track of sound; null where they are not known. */
export interface Sounding {
  readonly channels: number | null;
  readonly sampleRate: number | null;
  /** Bits of a sample, of what loses nothing. */
  readonly bits?: number;
}

/**
 * What a sample entry of sound tells (ISO/IEC 14496-12, section 12.2.3). Many programs write two channels into it whatever
 * there are, and it has no room for more than 65,535 Hz, so what the decoder is told counts first.
 * @param entry first byte of the entry, with its size
 */
export function soundOf(bytes: Uint8Array, entry: number): Sounding {
  const own: Sounding = { channels: readU16(bytes, entry + 24), sampleRate: readU16(bytes, entry + 32) };
  const end = Math.min(bytes.length, entry + readU32(bytes, entry));
  const inside = parseBoxes(bytes, entry + FIXED_BYTES + (MORE_BYTES[readU16(bytes, entry + 16)] ?? 0), end);
  // Older movie files put it one box deeper.
  const wave = findBox(inside, 'wave');
  const boxes = wave ? [...inside, ...parseBoxes(bytes, wave.content, wave.end)] : inside;
  for (const box of boxes) {
    const told = CONFIGURATIONS[box.type]?.(bytes.subarray(box.content, box.end));
    if (told)
      return {
        channels: told.channels ?? own.channels,
        sampleRate: told.sampleRate ?? own.sampleRate,
        ...(told.bits !== undefined && { bits: told.bits }),
      };
  }
  return own;
}

/** Bytes of an entry before the boxes in it, and what later versions of movie files have behind them. */
const FIXED_BYTES = 36;
const MORE_BYTES: Readonly<Record<number, number>> = { 1: 16, 2: 36 };

/** What a box of an entry tells the decoder, by its type; null where it is too short to tell it. */
const CONFIGURATIONS: Readonly<Partial<Record<string, (box: Uint8Array) => Sounding | null>>> = {
  esds: ofDescriptors,
  // Behind version and flags: length of a frame, version, depth, three of the coder's own, channels; the rate is last.
  alac: ofAtLeast(28, (b) => ({
    channels: b[13] || null,
    sampleRate: readU32(b, 24) || null,
    bits: b[9] ?? 16,
  })),
  // RFC 7845, section 5.1, in another order of bytes; the entry has its rate.
  dOps: ofAtLeast(2, (b) => ({ channels: b[1] || null, sampleRate: null })),
  // Behind version and flags a block of STREAMINFO with its header (RFC 9639, section 8.2).
  dfLa: ofAtLeast(22, (b) => ({
    channels: (((b[20] ?? 0) >> 1) & 7) + 1,
    sampleRate: readU24(b, 18) >> 4 || null,
    bits: ((((b[20] ?? 0) & 1) << 4) | ((b[21] ?? 0) >> 4)) + 1,
  })),
  // ETSI TS 102 366, sections F.4 and F.6.
  dac3: ofAtLeast(3, (b) => ({
    channels: ofMode(readU24(b, 0) >> 11, readU24(b, 0) >> 10),
    sampleRate: null,
  })),
  dec3: ofAtLeast(4, (b) => ({ channels: ofMode((b[3] ?? 0) >> 1, b[3] ?? 0), sampleRate: null })),
};

function ofAtLeast(bytes: number, tell: (box: Uint8Array) => Sounding): (box: Uint8Array) => Sounding | null {
  return (box) => (box.length < bytes ? null : tell(box));
}

/** Channels of the modes of AC-3 (ETSI TS 102 366, table 4.3), and one more for low sounds. */
const MODES = [2, 1, 2, 3, 3, 4, 4, 5];
const ofMode = (mode: number, low: number): number => (MODES[mode & 7] ?? 0) + (low & 1);

/** Tags of descriptors (ISO/IEC 14496-1, section 7.2.2.1). */
const TAG = { stream: 3, decoder: 4, specific: 5 } as const;
/** Kinds of streams that are AAC, of MPEG-4 and of MPEG-2 (section 7.2.6.6). */
const AAC: readonly (number | undefined)[] = [0x40, 0x66, 0x67, 0x68];

/** An elementary stream's descriptor, behind version and flags. */
function ofDescriptors(b: Uint8Array): Sounding | null {
  const stream = descriptor(b, 4, TAG.stream);
  if (!stream) return null;
  const flags = b[stream.content + 2] ?? 0;
  let at = stream.content + 3;
  if (flags & 0x80) at += 2;
  if (flags & 0x40) at += 1 + (b[at] ?? 0);
  if (flags & 0x20) at += 2;
  const decoder = descriptor(b, at, TAG.decoder);
  if (!decoder || !AAC.includes(b[decoder.content])) return null;
  const specific = descriptor(b, decoder.content + 13, TAG.specific);
  return specific && ofAac(b.subarray(specific.content, specific.end));
}

/** The descriptor at a place, if it is of this sort. Its length is in groups of seven bits. */
function descriptor(b: Uint8Array, at: number, tag: number): { content: number; end: number } | null {
  if (b[at] !== tag) return null;
  let length = 0;
  let next = at + 1;
  for (let turn = 0; turn < 4; turn++) {
    const byte = b[next++] ?? 0;
    length = (length << 7) | (byte & 0x7f);
    if (byte < 0x80) break;
  }
  return { content: next, end: Math.min(b.length, next + length) };
}

/** Rates by their number (ISO/IEC 14496-3, table 1.18), and channels by theirs (table 1.19). */
const RATES = [96000, 88200, 64000, 48000, 44100, 32000, 24000, 22050, 16000, 12000, 11025, 8000, 7350];
const LAYOUTS: Readonly<Record<number, number>> = {
  1: 1,
  2: 2,
  3: 3,
  4: 4,
  5: 5,
  6: 6,
  7: 8,
  11: 7,
  12: 8,
  14: 8,
};
/** Objects that say how a stream of fewer samples, or of one channel, is made into more. */
const SPECTRAL_BAND = 5;
const PARAMETRIC_STEREO = 29;

/** An AudioSpecificConfig (ISO/IEC 14496-3, section 1.6.2.1). */
function ofAac(b: Uint8Array): Sounding {
  let at = 0;
  const bits = (count: number): number => {
    let value = 0;
    for (let i = 0; i < count; i++, at++) value = value * 2 + (((b[at >> 3] ?? 0) >> (7 - (at & 7))) & 1);
    return value;
  };
  const rate = (): number | null => {
    const number = bits(4);
    return number === 15 ? bits(24) : (RATES[number] ?? null);
  };
  const type = bits(5);
  if (type === 31) bits(6);
  const base = rate();
  const layout = LAYOUTS[bits(4)] ?? null;
  const isMore = type === SPECTRAL_BAND || type === PARAMETRIC_STEREO;
  return {
    channels: type === PARAMETRIC_STEREO && layout === 1 ? 2 : layout,
    sampleRate: isMore ? rate() : base,
  };
}
