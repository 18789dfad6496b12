import { concat } from '$lib/core/bytes';
import { FormatError } from '../format';

/* Elements as they are written (RFC 8794, sections 4 to 6). */

/** Bytes of a number, big-endian, as few as it takes; ids carry their length mark already. */
export function numberBytes(value: number): Uint8Array {
  const bytes: number[] = [];
  for (let left = value; left > 0 || bytes.length === 0; left = Math.floor(left / 256))
    bytes.unshift(left % 256);
  return Uint8Array.from(bytes);
}

/** A size in as few bytes as it takes, or in so many. @throws {FormatError} when so many cannot say it */
export function sizeBytes(size: number, length?: number): Uint8Array {
  let width = length ?? 1;
  // All bits set would stand for a size that is not known.
  while (length === undefined && size >= 2 ** (7 * width) - 1) width++;
  if (size >= 2 ** (7 * width) - 1)
    throw new FormatError('tooLarge', 'its size cannot be said where it stands');
  const bytes = new Uint8Array(width);
  let left = size;
  for (let at = width - 1; at >= 0; at--) {
    bytes[at] = left % 256;
    left = Math.floor(left / 256);
  }
  bytes[0] = (bytes[0] as number) | (0x80 >> (width - 1));
  return bytes;
}

export const element = (id: number, ...content: readonly Uint8Array[]): Uint8Array => {
  const body = concat(content);
  return concat([numberBytes(id), sizeBytes(body.length), body]);
};

export const numberElement = (id: number, value: number): Uint8Array => element(id, numberBytes(value));
export const textElement = (id: number, text: string): Uint8Array =>
  element(id, new TextEncoder().encode(text));

const VOID = 0xec;

/** Room of exactly so many bytes, at least two, in which nothing is said (RFC 8794, section 11.3.2). */
export function voidOf(length: number): Uint8Array {
  // With a size of one byte, or of eight: every length can be had.
  const size = length < 128 ? sizeBytes(length - 2, 1) : sizeBytes(length - 9, 8);
  const header = [VOID, ...size];
  return concat([Uint8Array.from(header), new Uint8Array(length - header.length)]);
}
