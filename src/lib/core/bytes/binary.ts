/** Numbers in bytes, as the container formats write them. Offsets and lengths are in bytes. */

const latin1 = (() => {
  const decoder = new TextDecoder('latin1');
  return (bytes: Uint8Array) => decoder.decode(bytes);
})();

/** Reads UTF-8. One for all: to make one costs more than most texts take. */
export const UTF8 = new TextDecoder();

export const readU16 = (b: Uint8Array, at: number): number => ((b[at] ?? 0) << 8) | (b[at + 1] ?? 0);

export const readU16le = (b: Uint8Array, at: number): number => (b[at] ?? 0) | ((b[at + 1] ?? 0) << 8);
export const readU24 = (b: Uint8Array, at: number): number =>
  ((b[at] ?? 0) << 16) | ((b[at + 1] ?? 0) << 8) | (b[at + 2] ?? 0);

export const readU32 = (b: Uint8Array, at: number): number =>
  ((b[at] ?? 0) * 0x1000000 + readU24(b, at + 1)) >>> 0;

/** A 64-bit big-endian number; exact up to 2^53, which no file length passes. */
export const readU64 = (b: Uint8Array, at: number): number =>
  readU32(b, at) * 0x100000000 + readU32(b, at + 4);

export const readU32le = (b: Uint8Array, at: number): number =>
  ((b[at] ?? 0) | ((b[at + 1] ?? 0) << 8) | ((b[at + 2] ?? 0) << 16) | ((b[at + 3] ?? 0) << 24)) >>> 0;

export function u32(value: number): Uint8Array {
  return Uint8Array.of(value >>> 24, value >>> 16, value >>> 8, value);
}

export function u24(value: number): Uint8Array {
  return Uint8Array.of(value >>> 16, value >>> 8, value);
}

export function u16(value: number): Uint8Array {
  return Uint8Array.of(value >>> 8, value);
}

export function u32le(value: number): Uint8Array {
  return Uint8Array.of(value, value >>> 8, value >>> 16, value >>> 24);
}

/** One run of bytes after another. */
export function concat(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** Four letters or so, each one byte. */
export const readAscii = (b: Uint8Array, at: number, length: number): string =>
  latin1(b.subarray(at, at + length));

export function ascii(text: string): Uint8Array {
  return Uint8Array.from(text, (letter) => letter.charCodeAt(0) & 0xff);
}

/**
 * 32-bit FNV-1a over the length, the first and last bytes, and every 16th between: distinguishes pictures at a fraction
 * of the cost. It does not prove that they are equal.
 */
export function fnv1a(bytes: Uint8Array): number {
  const EDGE = 2048;
  let hash = Math.imul(0x811c9dc5 ^ bytes.length, 0x01000193);
  const add = (byte: number) => (hash = Math.imul(hash ^ byte, 0x01000193));
  for (let i = 0; i < bytes.length; i += i < EDGE || i >= bytes.length - EDGE ? 1 : 16)
    add(bytes[i] as number);
  return hash >>> 0;
}
