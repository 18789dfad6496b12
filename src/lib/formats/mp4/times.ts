import { readU32, readU64 } from '$lib/core/bytes';
import type { Box } from './boxes';

/**
 * Units in a second, and a length in them. `mvhd` and `mdhd` begin alike: version 1 has 64-bit times (ISO/IEC 14496-12,
 * sections 8.2.2 and 8.4.2).
 */
export function readTimes(bytes: Uint8Array, box: Box): { timescale: number; duration: number } {
  const long = bytes[box.content] === 1;
  const at = box.content + (long ? 20 : 12);
  return { timescale: readU32(bytes, at), duration: long ? readU64(bytes, at + 4) : readU32(bytes, at + 4) };
}
