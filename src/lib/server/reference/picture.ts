import { deflateSync } from 'node:zlib';
import { random } from '../sound/tunes.js';

const SIGNATURE = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a);

/** A cover of the sea as PNG, drawn from the release's name, square. */
export function drawCover(name: string, size: number): Buffer {
  const next = random(
    [...name].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) >>> 0, 7) % 100_000,
  );
  const colour = (light: number) => [0, 1, 2].map(() => Math.floor(light * (0.5 + 0.5 * next())));
  const [sky, sea, sun] = [colour(230), colour(120), colour(250)] as [number[], number[], number[]];
  const [sunX, sunY, level] = [0.25 + 0.5 * next(), 0.2 + 0.2 * next(), 0.5 + 0.2 * next()];
  const rows = Buffer.alloc(size * (1 + size * 3));
  for (let y = 0, at = 0; y < size; y++) {
    at++;
    for (let x = 0; x < size; x++) {
      const inSun = Math.hypot(x / size - sunX, y / size - sunY) < 0.12;
      const wave = y / size > level && Math.abs(Math.sin(y / 9 + Math.sin(x / 31) * 2)) < 0.12;
      const base = inSun || wave ? sun : y / size > level ? sea : sky;
      for (const part of base) rows[at++] = part;
    }
  }
  return Buffer.concat([
    SIGNATURE,
    chunk('IHDR', header(size)),
    chunk('IDAT', deflateSync(rows, { level: 6 })),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

/** Width, height, 8 bits, true colour (PNG specification, section 11.2.2). */
function header(size: number): Buffer {
  const bytes = Buffer.alloc(13);
  bytes.writeUInt32BE(size, 0);
  bytes.writeUInt32BE(size, 4);
  bytes.set([8, 2, 0, 0, 0], 8);
  return bytes;
}

function chunk(type: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const out = Buffer.alloc(12 + data.length);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc(body), 8 + data.length);
  return out;
}

const TABLE = Uint32Array.from({ length: 256 }, (_, value) => {
  let crc = value;
  for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? 0xedb88320 ^ (crc >>> 1) : crc >>> 1;
  return crc >>> 0;
});

function crc(bytes: Uint8Array): number {
  let value = 0xffffffff;
  for (const byte of bytes) value = (TABLE[(value ^ byte) & 0xff] as number) ^ (value >>> 8);
  return (value ^ 0xffffffff) >>> 0;
}
