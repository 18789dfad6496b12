import { ascii, concat, readAscii, readU32, u32 } from '$lib/core/bytes';
import { codeOfRole, type PictureRole } from '$lib/core/items';
import { FormatError, type NewPicture } from '../format';

/** A picture as FLAC's PICTURE block says it (RFC 9639, section 8.8); comments hold the same in base64. */
export interface PictureBlock {
  readonly code: number;
  readonly mime: string;
  readonly bytes: Uint8Array;
}

export function pictureBlockBytes(role: PictureRole, { mime, width, height, bytes }: NewPicture): Uint8Array {
  const depth = mime === 'image/png' ? 32 : 24;
  return concat([
    u32(codeOfRole(role)),
    u32(mime.length),
    ascii(mime),
    u32(0),
    u32(width),
    u32(height),
    u32(depth),
    u32(0),
    u32(bytes.length),
    bytes,
  ]);
}

/** @throws {FormatError} `damaged` when a length passes the end */
export function parsePictureBlock(block: Uint8Array): PictureBlock {
  const mimeEnd = 8 + readU32(block, 4);
  const textEnd = mimeEnd + 4 + readU32(block, mimeEnd);
  const start = textEnd + 20;
  const end = start + readU32(block, textEnd + 16);
  if (end > block.length) throw new FormatError('damaged', 'a picture passes the end of its block');
  return {
    code: readU32(block, 0),
    mime: readAscii(block, 8, mimeEnd - 8),
    bytes: block.subarray(start, end),
  };
}
