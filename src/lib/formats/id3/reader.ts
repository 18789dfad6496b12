import { UTF8, readAscii, readU16, readU24, readU32, type ByteSource } from '$lib/core/bytes';
import { unzlibSync } from 'fflate';
import { FormatError, MOST_PARTS, MOST_TAG_BYTES, limitParts } from '../format';
import {
  FRAME23_COMPRESSED,
  FRAME23_ENCRYPTED,
  FRAME23_GROUPED,
  FRAME24_COMPRESSED,
  FRAME24_ENCRYPTED,
  FRAME24_GROUPED,
  FRAME24_LENGTH,
  FRAME24_UNSYNC,
  HEADER_BYTES,
  TAG_EXTENDED,
  TAG_FOOTER,
  TAG_UNSYNC,
  readSyncSafe,
  type Id3Frame,
  type Id3Tag,
  type Id3Version,
} from './layout';

/**
 * The ID3v2 tag that begins at `start`, or null when there is none.
 * @throws {FormatError} `damaged` when the tag is of an unknown version, `tooMuch` when it is larger than any real one
 */
export async function readId3(source: ByteSource, start = 0): Promise<Id3Tag | null> {
  const header = parseHeader(await source.read(start, start + HEADER_BYTES));
  if (!header) return null;
  const body = await source.read(start + HEADER_BYTES, start + HEADER_BYTES + header.bodySize);
  return tagOf(header, body);
}

/** The same for a tag in memory, as chunks of other containers hold them. */
export function parseId3(bytes: Uint8Array): Id3Tag | null {
  const header = parseHeader(bytes);
  return header && tagOf(header, bytes.subarray(HEADER_BYTES, HEADER_BYTES + header.bodySize));
}

interface Header {
  readonly version: Id3Version;
  readonly flags: number;
  readonly bodySize: number;
}

function parseHeader(header: Uint8Array): Header | null {
  if (header.length < HEADER_BYTES || readAscii(header, 0, 3) !== 'ID3') return null;
  const version = header[3] as number;
  const bodySize = readSyncSafe(header, 6);
  if (version < 2 || version > 4) throw new FormatError('damaged', `ID3v2.${version} is not known`);
  if (bodySize > MOST_TAG_BYTES) throw new FormatError('tooMuch', `a tag of ${bodySize} bytes`);
  return { version: version as Id3Version, flags: header[5] as number, bodySize };
}

function tagOf({ version, flags, bodySize }: Header, body: Uint8Array): Id3Tag {
  const footer = version === 4 && flags & TAG_FOOTER ? HEADER_BYTES : 0;
  return {
    version,
    flags,
    frames: parseFrames(body, version, flags),
    size: HEADER_BYTES + bodySize + footer,
  };
}

function parseFrames(raw: Uint8Array, version: Id3Version, flags: number): Id3Frame[] {
  const unsync = (flags & TAG_UNSYNC) !== 0;
  const body = unsync && version < 4 ? removeUnsync(raw) : raw;
  let at = flags & TAG_EXTENDED && version > 2 ? extendedHeaderBytes(body, version) : 0;
  const frames: Id3Frame[] = [];
  const idLength = version === 2 ? 3 : 4;
  const headerBytes = version === 2 ? 6 : 10;
  const plainSizes = version === 4 && hasPlainSizes(body, at);
  while (at + headerBytes <= body.length && body[at] !== 0) {
    const id = readAscii(body, at, idLength);
    // A frame with an odd id has a size like any other; only where that leads nowhere does the tag end.
    if (!isPrintable(id)) break;
    limitParts(frames.length, 'frames in a tag');
    const size = frameSize(body, at, version, plainSizes);
    const end = at + headerBytes + size;
    if (end > body.length) break;
    // A tag that is unsynchronised as a whole says so for each of its frames, once the flag is gone.
    const frameFlags =
      version === 2 ? 0 : readU16(body, at + 8) | (unsync && version === 4 ? FRAME24_UNSYNC : 0);
    frames.push({ id, flags: frameFlags, data: body.subarray(at + headerBytes, end) });
    at = end;
  }
  return frames;
}

/** Four letters that a program may have meant as an id: neither padding nor the middle of something else. */
const isPrintable = (id: string) => /^[\u0020-\u007e]+$/.test(id);

function frameSize(body: Uint8Array, at: number, version: Id3Version, plain: boolean): number {
  if (version === 2) return readU24(body, at + 3);
  return version === 4 && !plain ? readSyncSafe(body, at + 4) : readU32(body, at + 4);
}

/** ID3v2.3 counts without its own size field, ID3v2.4 with it. */
function extendedHeaderBytes(body: Uint8Array, version: Id3Version): number {
  return version === 3 ? 4 + readU32(body, 0) : readSyncSafe(body, 0);
}

/** Some programs write ID3v2.4 frame sizes as plain numbers: they are, if only so the frames line up. */
function hasPlainSizes(body: Uint8Array, start: number): boolean {
  const walk = (plain: boolean): boolean => {
    let at = start;
    let steps = 0;
    while (at + 10 <= body.length && body[at] !== 0) {
      if (!/^[A-Z0-9]{4}$/.test(readAscii(body, at, 4)) || ++steps > MOST_PARTS) return false;
      at += 10 + frameSize(body, at, 4, plain);
    }
    return at <= body.length;
  };
  return !walk(false) && walk(true);
}

/** Undoes unsynchronisation: `FF 00` stands for `FF` (ID3v2.3.0, section 5). */
export function removeUnsync(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  let length = 0;
  for (let i = 0; i < bytes.length; i++) {
    out[length++] = bytes[i] as number;
    if (bytes[i] === 0xff && bytes[i + 1] === 0) i++;
  }
  return out.subarray(0, length);
}

/** Bytes that a compressed frame may unfold to. */
const MOST_UNFOLDED_BYTES = 8 * 1024 * 1024;

/** A compressed frame's content; null when it cannot be unfolded, or not to the size that it says. */
function unfold(bytes: Uint8Array, size: number): Uint8Array | null {
  if (size > MOST_UNFOLDED_BYTES) return null;
  try {
    const out = unzlibSync(bytes, { out: new Uint8Array(size) });
    return out.length === size ? out : null;
  } catch {
    return null;
  }
}

/** A frame's content without what its flags add; null when it is encrypted or cannot be unfolded. */
export function frameContent(frame: Id3Frame, version: Id3Version): Uint8Array | null {
  const { flags } = frame;
  if (version === 2) return frame.data;
  if (version === 3) {
    if (flags & FRAME23_ENCRYPTED) return null;
    // Four bytes of size for a compressed frame come before the group's byte (ID3v2.3.0, section 3.3.1).
    const isCompressed = (flags & FRAME23_COMPRESSED) !== 0;
    const skip = (isCompressed ? 4 : 0) + (flags & FRAME23_GROUPED ? 1 : 0);
    const rest = frame.data.subarray(skip);
    return isCompressed ? unfold(rest, readU32(frame.data, 0)) : rest;
  }
  if (flags & FRAME24_ENCRYPTED) return null;
  const grouped = flags & FRAME24_GROUPED ? 1 : 0;
  const skip = grouped + (flags & FRAME24_LENGTH ? 4 : 0);
  const content = frame.data.subarray(skip);
  const plain = flags & FRAME24_UNSYNC ? removeUnsync(content) : content;
  if (!(flags & FRAME24_COMPRESSED)) return plain;
  // A compressed frame must say its length (ID3v2.4.0-structure, section 4.1.2).
  return flags & FRAME24_LENGTH ? unfold(plain, readSyncSafe(frame.data, grouped)) : null;
}

const LATIN1 = new TextDecoder('latin1');
const UTF16BE = new TextDecoder('utf-16be');
/** By the number of their encoding (ID3v2.4.0-structure, section 4). */
const DECODERS = [LATIN1, new TextDecoder('utf-16'), UTF16BE, UTF8] as const;

/** Text in one of the four encodings of ID3v2, without its closing zero. */
export function decodeText(encoding: number, bytes: Uint8Array): string {
  const bigEndian = encoding === 1 && bytes[0] === 0xfe && bytes[1] === 0xff;
  const decoder = bigEndian ? UTF16BE : (DECODERS[encoding] ?? LATIN1);
  return decoder.decode(bytes).replace(/\0+$/, '');
}

/** Text of a text frame, several values parted by a null letter; null when it cannot be looked into. */
export function frameText(frame: Id3Frame, version: Id3Version): string | null {
  const content = frameContent(frame, version);
  return content && content.length > 0 ? decodeText(content[0] as number, content.subarray(1)) : null;
}
