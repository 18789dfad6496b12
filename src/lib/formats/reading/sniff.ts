import { readAscii, readU32, type ByteSource } from '$lib/core/bytes';
import type { FormatId } from '$lib/core/items';
import { findFirstFrame } from '../mp3';
import { codecOf } from '../ogg';

/** The format by a file's first bytes, whatever its name says; null when it is none that is known. */
export async function sniffFormat(source: ByteSource): Promise<FormatId | null> {
  const head = await source.read(0, 64);
  const mark = readAscii(head, 0, 4);
  if (mark === 'fLaC') return 'flac';
  if (mark === 'OggS') return codecOf(head.subarray(27 + (head[26] ?? 0)));
  if (['ftyp', 'moov', 'mdat', 'wide', 'free'].includes(readAscii(head, 4, 4))) return 'mp4';
  if (readU32(head, 0) === 0x1a45dfa3) return 'matroska';
  if ((mark === 'RIFF' || mark === 'RF64') && readAscii(head, 8, 4) === 'WAVE') return 'wav';
  if (mark === 'FORM' && /^AIF[FC]$/.test(readAscii(head, 8, 4))) return 'aiff';
  if (mark === 'DSD ') return 'dsf';
  if (mark === 'FRM8' && readAscii(head, 12, 4) === 'DSD ') return 'dff';
  if (mark.startsWith('ID3')) return sniffBehindId3(source, head);
  if (head[0] === 0xff && ((head[1] as number) & 0xe6) > 0xe0) return 'mp3';
  // Remains of something else may stand before the first frame.
  return (await findFirstFrame(source, 0)) === null ? null : 'mp3';
}

async function sniffBehindId3(source: ByteSource, head: Uint8Array): Promise<FormatId> {
  const size = ((head[6] ?? 0) << 21) | ((head[7] ?? 0) << 14) | ((head[8] ?? 0) << 7) | (head[9] ?? 0);
  return readAscii(await source.read(10 + size, 14 + size), 0, 4) === 'fLaC' ? 'flac' : 'mp3';
}
