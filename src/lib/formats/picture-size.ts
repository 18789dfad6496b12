import { readAscii, readU16, readU32 } from '$lib/core/bytes';

/** Width and height in pixels. */
export interface PictureSize {
  readonly width: number;
  readonly height: number;
}

/** Pixels of a JPEG, PNG, GIF or WebP from its own headers; null for anything else or a broken one. */
export function readPictureSize(bytes: Uint8Array): PictureSize | null {
  if (readU32(bytes, 0) === 0x89504e47) return { width: readU32(bytes, 16), height: readU32(bytes, 20) };
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return readJpegSize(bytes);
  if (readAscii(bytes, 0, 3) === 'GIF') return { width: u16le(bytes, 6), height: u16le(bytes, 8) };
  if (readAscii(bytes, 8, 4) === 'WEBP') return readWebpSize(bytes);
  return null;
}

const u16le = (b: Uint8Array, at: number) => (b[at] ?? 0) | ((b[at + 1] ?? 0) << 8);

/** Follows the markers to the frame header (ISO/IEC 10918-1, section B.2.2). */
function readJpegSize(bytes: Uint8Array): PictureSize | null {
  let at = 2;
  while (at + 9 < bytes.length) {
    if (bytes[at] !== 0xff) return null;
    const marker = bytes[at + 1] as number;
    if (marker === 0xff) {
      at++;
      continue;
    }
    const isFrame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
    if (isFrame) return { width: readU16(bytes, at + 7), height: readU16(bytes, at + 5) };
    at += 2 + readU16(bytes, at + 2);
  }
  return null;
}

function readWebpSize(bytes: Uint8Array): PictureSize | null {
  const chunk = readAscii(bytes, 12, 4);
  if (chunk === 'VP8 ') return { width: u16le(bytes, 26) & 0x3fff, height: u16le(bytes, 28) & 0x3fff };
  if (chunk === 'VP8X') {
    const u24le = (at: number) => u16le(bytes, at) | ((bytes[at + 2] ?? 0) << 16);
    return { width: u24le(24) + 1, height: u24le(27) + 1 };
  }
  return null;
}
