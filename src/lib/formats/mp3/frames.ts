import type { ByteSource } from '$lib/core/bytes';

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

/** Whether a frame's header stands here (ISO/IEC 11172-3, section 2.4.2.3). */
export function isFrameHeader(b: Uint8Array, at: number): boolean {
  return frameBytes(b, at) !== null;
}

/** Length of the frame whose header stands here, in bytes; null where none stands, or its bit rate is free. */
function frameBytes(b: Uint8Array, at: number): number | null {
  if (b[at] !== 0xff || ((b[at + 1] ?? 0) & 0xe0) !== 0xe0) return null;
  const version = ((b[at + 1] as number) >> 3) & 3;
  const layer = 4 - (((b[at + 1] as number) >> 1) & 3);
  const bitrate = (b[at + 2] ?? 0) >> 4;
  const rateIndex = ((b[at + 2] ?? 0) >> 2) & 3;
  if (version === 1 || layer === 4 || bitrate === 15 || bitrate === 0 || rateIndex === 3) return null;
  const first = version === 3;
  const kilobits = BITRATES[first ? layer - 1 : layer === 1 ? 3 : 4]?.[bitrate] ?? 0;
  const rate = (RATES[rateIndex] ?? 1) / (first ? 1 : version === 2 ? 2 : 4);
  const padding = ((b[at + 2] as number) >> 1) & 1;
  if (layer === 1) return (Math.floor((12_000 * kilobits) / rate) + padding) * 4;
  return Math.floor(((layer === 3 && !first ? 72_000 : 144_000) * kilobits) / rate) + padding;
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
    const length = frameBytes(b, at);
    if (length === null) return false;
    at += length;
  }
  return true;
}
