import { deflateSync } from 'node:zlib';
import { concat, ascii, u32 } from '../../src/lib/core/bytes';

/** A PNG of one grey, built by hand: large enough to be told apart by its size. */
export function makePng(width: number, height: number): Uint8Array {
  const rows = new Uint8Array((width + 1) * height).fill(0x77);
  for (let row = 0; row < height; row++) rows[row * (width + 1)] = 0;
  const header = concat([u32(width), u32(height), Uint8Array.of(8, 0, 0, 0, 0)]);
  const chunk = (type: string, data: Uint8Array) => {
    const body = concat([ascii(type), data]);
    return concat([u32(data.length), body, u32(crc32(body))]);
  };
  const mark = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a);
  return concat([
    mark,
    chunk('IHDR', header),
    chunk('IDAT', new Uint8Array(deflateSync(rows))),
    chunk('IEND', new Uint8Array(0)),
  ]);
}

function crc32(bytes: Uint8Array): number {
  let crc = ~0;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0);
  }
  return ~crc >>> 0;
}
