import { ascii, concat, u16, u24, u32 } from '$lib/core/bytes';
import { FormatError } from '../format';
import { syncSafe, type Id3Frame, type Id3Version } from './layout';

/** What a frame's size in ID3v2.2 can say in 24 bits. */
const MOST_FRAME22_BYTES = 0xffffff;

/** A frame with its header. @throws {FormatError} `tooLarge` when it passes what its size can say */
export function frameBytes({ id, flags, data }: Id3Frame, version: Id3Version): Uint8Array {
  if (version === 2) {
    if (data.length > MOST_FRAME22_BYTES)
      throw new FormatError('tooLarge', 'a frame of ID3v2.2 holds at most 16 MiB');
    return concat([ascii(id), u24(data.length), data]);
  }
  const size = version === 4 ? syncSafe(data.length) : u32(data.length);
  return concat([ascii(id), size, u16(flags), data]);
}

/** A text frame's body: one byte of encoding, then text. Plain ASCII stays so; readers agree on it. */
export function encodeText(text: string, version: Id3Version): Uint8Array {
  // eslint-disable-next-line no-control-regex
  if (/^[\u0000-\u007f]*$/.test(text)) return concat([Uint8Array.of(version === 4 ? 3 : 0), ascii(text)]);
  if (version === 4) return concat([Uint8Array.of(3), new TextEncoder().encode(text)]);
  return concat([Uint8Array.of(1, 0xff, 0xfe), utf16le(text)]);
}

/** A link frame's body (WXXX): encoding, no description, then an address in Latin-1 (ID3v2.3.0, section 4.3.2). */
export function encodeLink(address: string): Uint8Array {
  const plain = address.replace(/[^\u0021-\u007e]/gu, encodeURIComponent);
  return concat([Uint8Array.of(0, 0), ascii(plain)]);
}

/** Encoding, what stands before the texts, then two texts parted by a null letter of the encoding. */
export function encodePair(
  before: Uint8Array,
  first: string,
  second: string,
  version: Id3Version,
): Uint8Array {
  const encoding = encodeText(first + second, version)[0] as number;
  if (encoding !== 1) {
    const encode = (text: string) => (encoding === 3 ? new TextEncoder().encode(text) : ascii(text));
    return concat([Uint8Array.of(encoding), before, encode(first), Uint8Array.of(0), encode(second)]);
  }
  const mark = Uint8Array.of(0xff, 0xfe);
  const head = concat([mark, utf16le(first), Uint8Array.of(0, 0)]);
  return concat([Uint8Array.of(1), before, head, mark, utf16le(second)]);
}

function utf16le(text: string): Uint8Array {
  const bytes = new Uint8Array(text.length * 2);
  for (let i = 0; i < text.length; i++) {
    bytes[i * 2] = text.charCodeAt(i);
    bytes[i * 2 + 1] = text.charCodeAt(i) >>> 8;
  }
  return bytes;
}
