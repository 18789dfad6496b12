import { readAscii, readU32, type ByteSource } from '$lib/core/bytes';
import type { FormatId } from '$lib/core/items';
import { extensionOf } from '$lib/core/paths';

const EXTENSIONS: Readonly<Record<FormatId, readonly string[]>> = {
  mp3: ['mp3'],
  flac: ['flac'],
  vorbis: ['ogg', 'oga'],
  opus: ['opus', 'ogg', 'oga'],
  mp4: ['mp4', 'm4a', 'm4b', 'm4v', 'm4r', 'mov'],
  matroska: ['mkv', 'webm', 'mka', 'mk3d'],
  wav: ['wav', 'wave'],
  aiff: ['aif', 'aiff', 'aifc'],
};
const MEDIA_EXTENSIONS = new Set(Object.values(EXTENSIONS).flat());

/** Whether a file is worth opening by its name: others are set aside as no media. */
export function isMediaName(path: string): boolean {
  return MEDIA_EXTENSIONS.has(extensionOf(path));
}

/** Whether a format goes by this extension. */
export function fitsExtension(format: FormatId, path: string): boolean {
  return EXTENSIONS[format].includes(extensionOf(path));
}

/** The format by a file's first bytes, whatever its name says; null when it is none that is known. */
export async function sniffFormat(source: ByteSource): Promise<FormatId | null> {
  const head = await source.read(0, 64);
  const mark = readAscii(head, 0, 4);
  if (mark === 'fLaC') return 'flac';
  if (mark === 'OggS') return sniffOgg(head);
  if (['ftyp', 'moov', 'mdat', 'wide', 'free'].includes(readAscii(head, 4, 4))) return 'mp4';
  if (readU32(head, 0) === 0x1a45dfa3) return 'matroska';
  if ((mark === 'RIFF' || mark === 'RF64') && readAscii(head, 8, 4) === 'WAVE') return 'wav';
  if (mark === 'FORM' && /^AIF[FC]$/.test(readAscii(head, 8, 4))) return 'aiff';
  if (mark.startsWith('ID3')) return sniffBehindId3(source, head);
  return head[0] === 0xff && ((head[1] as number) & 0xe6) > 0xe0 ? 'mp3' : null;
}

/** The codec names itself at the start of the first packet (RFC 7845 section 5.1; Vorbis I section 4.2.1). */
function sniffOgg(head: Uint8Array): FormatId | null {
  const packet = 27 + (head[26] ?? 0);
  if (readAscii(head, packet, 8) === 'OpusHead') return 'opus';
  return readAscii(head, packet + 1, 6) === 'vorbis' ? 'vorbis' : null;
}

async function sniffBehindId3(source: ByteSource, head: Uint8Array): Promise<FormatId> {
  const size = ((head[6] ?? 0) << 21) | ((head[7] ?? 0) << 14) | ((head[8] ?? 0) << 7) | (head[9] ?? 0);
  return readAscii(await source.read(10 + size, 14 + size), 0, 4) === 'fLaC' ? 'flac' : 'mp3';
}
