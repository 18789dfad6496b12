import { readAscii, readU32, readU64, type ByteSource } from '$lib/core/bytes';
import { findPath, parseBoxes, type Box } from './boxes';
import { readMp4, wholeBox } from './reader';

/**
 * Seconds that the first sound of a file plays, where its edit list says so: what an encoder put before and behind it is
 * left out (ISO/IEC 14496-12, section 8.6.6). Null where there is no such list, or one of several parts.
 * @throws {FormatError}
 */
export async function readSoundSeconds(source: ByteSource): Promise<number | null> {
  const structure = await readMp4(source);
  const { moovBytes: bytes } = structure;
  const whole = wholeBox(structure);
  const header = findPath(bytes, whole, 'mvhd');
  for (const trak of parseBoxes(bytes, whole.content, whole.end)) {
    if (trak.type !== 'trak' || handlerOf(bytes, trak) !== 'soun') continue;
    const list = findPath(bytes, trak, 'edts', 'elst');
    if (!header || !list || readU32(bytes, list.content + 4) !== 1) return null;
    const timescale = readU32(bytes, header.content + (bytes[header.content] === 1 ? 20 : 12));
    const duration =
      bytes[list.content] === 1 ? readU64(bytes, list.content + 8) : readU32(bytes, list.content + 8);
    return timescale > 0 && duration > 0 ? duration / timescale : null;
  }
  return null;
}

function handlerOf(bytes: Uint8Array, trak: Box): string {
  const handler = findPath(bytes, trak, 'mdia', 'hdlr');
  return handler ? readAscii(bytes, handler.content + 8, 4) : '';
}
