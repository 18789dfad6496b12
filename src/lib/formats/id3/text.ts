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

/** How texts are to be written: in a version's own way, or in ISO 8859-1 as far as that holds them. */
export type TextStyle = Id3Version | 'latin1';

/** The encoding that a text asks for. Plain ASCII stays so; readers agree on it. */
export function encodingFor(text: string, style: TextStyle): number {
  // eslint-disable-next-line no-control-regex
  if (style === 'latin1') return /^[\u0000-\u00ff]*$/.test(text) ? 0 : 1;
  if (style === 4) return 3;
  // eslint-disable-next-line no-control-regex
  return /^[\u0000-\u007f]*$/.test(text) ? 0 : 1;
}

/** A text in one of the encodings that are written: Latin-1 for ASCII, UTF-16 with its mark, UTF-8. */
export function encodeAs(encoding: number, text: string): Uint8Array {
  if (encoding === 3) return new TextEncoder().encode(text);
  return encoding === 0 ? ascii(text) : concat([Uint8Array.of(0xff, 0xfe), utf16le(text)]);
}

/** A text frame's body: one byte of encoding, then text. */
export function encodeText(text: string, style: TextStyle): Uint8Array {
  const encoding = encodingFor(text, style);
  return concat([Uint8Array.of(encoding), encodeAs(encoding, text)]);
}

/** A link frame's body (WXXX): encoding, no description, then an address in Latin-1 (ID3v2.3.0, section 4.3.2). */
export function encodeLink(address: string): Uint8Array {
  const plain = address.replace(/[^\u0021-\u007e]/gu, encodeURIComponent);
  return concat([Uint8Array.of(0, 0), ascii(plain)]);
}

/** Encoding, what stands before the texts, then two texts parted by a null letter of the encoding. */
export function encodePair(before: Uint8Array, first: string, second: string, style: TextStyle): Uint8Array {
  const encoding = encodingFor(first + second, style);
  const end = new Uint8Array(encoding === 1 ? 2 : 1);
  return concat([
    Uint8Array.of(encoding),
    before,
    encodeAs(encoding, first),
    end,
    encodeAs(encoding, second),
  ]);
}

function utf16le(text: string): Uint8Array {
  const bytes = new Uint8Array(text.length * 2);
  for (let i = 0; i < text.length; i++) {
    bytes[i * 2] = text.charCodeAt(i);
    bytes[i * 2 + 1] = text.charCodeAt(i) >>> 8;
  }
  return bytes;
}
