import { readAscii, readU32, type ByteSource } from '$lib/core/bytes';

/** How far the beginning of the sound is looked for, in bytes: nearly always it is there at once. */
export const SYNC_SEARCH_BYTES = [512, 65_536] as const;
/** Frames that must follow each other where the sound does not begin at once: one alone may be chance. */
const CHAINED = 3;

/** Kilobits per second by index, for MPEG-1 layers I to III, then MPEG-2 layer I and layers II and III. */
const BITRATES = [
  [0, 32, 64, 96, 128, 160, 192, 224, 256, 288, 320, 352, 384, 416, 448],
  [0, 32, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 384],
  [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  [0, 32, 48, 56, 64, 80, 96, 112, 128, 144, 160, 176, 192, 224, 256],
  [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
] as const;
const RATES = [44_100, 48_000, 32_000] as const;

/** What a frame's header says of the sound. */
export interface FrameHeader {
  /** `1`, `2`, or `2.5`, which came later. */
  readonly version: 1 | 2 | 2.5;
  readonly layer: 1 | 2 | 3;
  /** Length of the frame, header included. */
  readonly bytes: number;
  /** Bits per second. */
  readonly bitRate: number;
  /** Hertz. */
  readonly sampleRate: number;
  readonly channels: 1 | 2;
  /** Samples of one channel in the frame. */
  readonly samples: number;
}

/** Whether a frame's header stands here (ISO/IEC 11172-3, section 2.4.2.3). */
export function isFrameHeader(b: Uint8Array, at: number): boolean {
  return readFrameHeader(b, at) !== null;
}

/** The frame header that stands here; null where none stands, or its bit rate is free. */
export function readFrameHeader(b: Uint8Array, at: number): FrameHeader | null {
  if (b[at] !== 0xff || ((b[at + 1] ?? 0) & 0xe0) !== 0xe0) return null;
  const code = ((b[at + 1] as number) >> 3) & 3;
  const layer = (4 - (((b[at + 1] as number) >> 1) & 3)) as 1 | 2 | 3 | 4;
  const bitrate = (b[at + 2] ?? 0) >> 4;
  const rateIndex = ((b[at + 2] ?? 0) >> 2) & 3;
  if (code === 1 || layer === 4 || bitrate === 15 || bitrate === 0 || rateIndex === 3) return null;
  const version = code === 3 ? 1 : code === 2 ? 2 : 2.5;
  const first = version === 1;
  const kilobits = BITRATES[first ? layer - 1 : layer === 1 ? 3 : 4]?.[bitrate] ?? 0;
  const sampleRate = (RATES[rateIndex] ?? 1) / (first ? 1 : version === 2 ? 2 : 4);
  const padding = ((b[at + 2] as number) >> 1) & 1;
  const samples = layer === 1 ? 384 : layer === 3 && !first ? 576 : 1152;
  const bytes =
    layer === 1
      ? (Math.floor((12_000 * kilobits) / sampleRate) + padding) * 4
      : Math.floor((samples * 125 * kilobits) / sampleRate) + padding;
  const channels = (b[at + 3] ?? 0) >> 6 === 3 ? 1 : 2;
  return { version, layer, bytes, bitRate: kilobits * 1000, sampleRate, channels, samples };
}

/** What the first frame may hold in place of sound: how long all of it is. Null where it is not said. */
export interface StreamLength {
  readonly frames: number | null;
  /** Bytes from the first frame to the end of the sound. */
  readonly bytes: number | null;
}

/** A Xing, Info or VBRI header in a first frame, of which `head` is the beginning. */
export function readStreamLength(head: Uint8Array): StreamLength {
  // VBRI stands 32 bytes behind the frame's header; its counts of bytes and of frames 10 and 14 behind its mark.
  if (readAscii(head, 36, 4) === 'VBRI')
    return { bytes: readU32(head, 46), frames: readU32(head, 50) || null };
  for (let at = 4; at < 64; at++) {
    const mark = readAscii(head, at, 4);
    if (mark !== 'Xing' && mark !== 'Info') continue;
    const flags = readU32(head, at + 4);
    return {
      frames: flags & 1 ? readU32(head, at + 8) || null : null,
      bytes: flags & 2 ? readU32(head, at + 8 + (flags & 1 ? 4 : 0)) : null,
    };
  }
  return { frames: null, bytes: null };
}

/** Samples that an encoder put before and behind a sound; its decoder adds some of its own before it. */
export interface EncoderSilence {
  readonly before: number;
  readonly behind: number;
}

/** What a first frame says of that ("Mp3 Info Tag rev 1"), of which `head` is the beginning; null where it says nothing. */
export function readEncoderSilence(head: Uint8Array): EncoderSilence | null {
  for (let at = 4; at < 64; at++) {
    const mark = readAscii(head, at, 4);
    if (mark !== 'Xing' && mark !== 'Info') continue;
    const said = at + 141;
    if (said + 3 > head.length || !/^L(AME|avc|avf)/.test(readAscii(head, at + 120, 4))) return null;
    const [a, b, c] = head.subarray(said, said + 3) as unknown as [number, number, number];
    return { before: (a << 4) | (b >> 4), behind: ((b & 15) << 8) | c };
  }
  return null;
}

/** Places in a file at which frames are looked at, first to last, and bytes that are read at each. */
const PLACES = { few: 3, many: 24 } as const;
const PLACE_BYTES = 8192;

/**
 * How long sound lasts whose frames nobody counted: exactly where all that are looked at have one bit rate, else about, by
 * the mean of frames from all over it.
 * @param start first byte of the sound, which begins with the frame `first`
 * @param end first byte behind the sound
 */
export async function reckonSeconds(
  source: ByteSource,
  start: number,
  end: number,
  first: FrameHeader,
): Promise<{ readonly seconds: number; readonly isAbout: boolean }> {
  const whole = end - start;
  for (const count of [PLACES.few, PLACES.many]) {
    const parts: { readonly bytes: number; readonly samples: number }[] = [];
    let isSteady = true;
    for (let place = 0; place < count; place++) {
      const at = start + Math.floor((whole * (place + 0.5)) / count);
      const chain = chainIn(await source.read(at, Math.min(end, at + PLACE_BYTES)));
      isSteady &&= chain.every(({ bitRate }) => bitRate === first.bitRate);
      const sum = (of: (header: FrameHeader) => number) => chain.reduce((all, one) => all + of(one), 0);
      if (chain.length > 0)
        parts.push({ bytes: sum(({ bytes }) => bytes), samples: sum(({ samples }) => samples) });
    }
    if (isSteady) return { seconds: (whole * 8) / first.bitRate, isAbout: false };
    if (count !== PLACES.many) continue;
    // Each place stands for as many bytes: where frames are small, there are more of them than were looked at.
    const samples = parts.reduce((all, one) => all + ((whole / parts.length) * one.samples) / one.bytes, 0);
    return { seconds: samples / first.sampleRate, isAbout: true };
  }
  throw new RangeError('no place was looked at');
}

/** The first frames that follow each other in some bytes; none where no chain of them begins. */
function chainIn(b: Uint8Array): readonly FrameHeader[] {
  for (let start = 0; start + 3 < b.length; start++) {
    if (b[start] !== 0xff || !isChain(b, start)) continue;
    const found: FrameHeader[] = [];
    for (let at = start; at + 3 < b.length;) {
      const header = readFrameHeader(b, at);
      if (!header) break;
      found.push(header);
      at += header.bytes;
    }
    return found;
  }
  return [];
}

/**
 * Where the sound begins that is not there at once: the first frame that others follow. Some files carry pictures,
 * pages or remains of a cut before it.
 * @returns null where none begins within the first 64 KiB
 */
export async function findFirstFrame(source: ByteSource, start: number): Promise<number | null> {
  const head = await source.read(start, start + SYNC_SEARCH_BYTES[1] + 6000);
  for (let at = 0; at < SYNC_SEARCH_BYTES[1] && at + 3 < head.length; at++)
    if (head[at] === 0xff && isChain(head, at)) return start + at;
  return null;
}

function isChain(b: Uint8Array, start: number): boolean {
  let at = start;
  for (let count = 0; count < CHAINED; count++) {
    const header = readFrameHeader(b, at);
    if (header === null) return false;
    at += header.bytes;
  }
  return true;
}
