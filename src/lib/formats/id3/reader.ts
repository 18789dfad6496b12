import { readAscii, readU16, readU24, readU32, type ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES } from '../format';
import {
  FRAME23_GROUPED,
  FRAME23_OPAQUE,
  FRAME24_GROUPED,
  FRAME24_LENGTH,
  FRAME24_OPAQUE,
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
 * @throws {FormatError} `damaged` when the tag is of an unknown version or larger than any real one
 */
export async function readId3(source: ByteSource, start = 0): Promise<Id3Tag | null> {
  const header = await source.read(start, start + HEADER_BYTES);
  if (header.length < HEADER_BYTES || readAscii(header, 0, 3) !== 'ID3') return null;
  const version = header[3] as number;
  const bodySize = readSyncSafe(header, 6);
  if (version < 2 || version > 4) throw new FormatError('damaged', `ID3v2.${version} is not known`);
  if (bodySize > MOST_TAG_BYTES) throw new FormatError('damaged', `a tag of ${bodySize} bytes`);
  const flags = header[5] as number;
  const body = await source.read(start + HEADER_BYTES, start + HEADER_BYTES + bodySize);
  const footer = version === 4 && flags & TAG_FOOTER ? HEADER_BYTES : 0;
  return {
    version: version as Id3Version,
    frames: parseFrames(body, version as Id3Version, flags),
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
    if (!/^[A-Z0-9 ]+$/.test(id)) break;
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
    while (at + 10 <= body.length && body[at] !== 0) {
      if (!/^[A-Z0-9]{4}$/.test(readAscii(body, at, 4))) return false;
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

/** A frame's content without what its flags add; null when it is compressed or encrypted. */
export function frameContent(frame: Id3Frame, version: Id3Version): Uint8Array | null {
  const { flags } = frame;
  if (version === 2) return frame.data;
  if (version === 3) {
    if (flags & FRAME23_OPAQUE) return null;
    return flags & FRAME23_GROUPED ? frame.data.subarray(1) : frame.data;
  }
  if (flags & FRAME24_OPAQUE) return null;
  const skip = (flags & FRAME24_GROUPED ? 1 : 0) + (flags & FRAME24_LENGTH ? 4 : 0);
  const content = frame.data.subarray(skip);
  return flags & FRAME24_UNSYNC ? removeUnsync(content) : content;
}

const DECODERS = ['latin1', 'utf-16', 'utf-16be', 'utf-8'] as const;

/** Text in one of the four encodings of ID3v2, without its closing zero. */
export function decodeText(encoding: number, bytes: Uint8Array): string {
  const bigEndian = encoding === 1 && bytes[0] === 0xfe && bytes[1] === 0xff;
  const label = bigEndian ? 'utf-16be' : (DECODERS[encoding] ?? 'latin1');
  return new TextDecoder(label).decode(bytes).replace(/\0+$/, '');
}

/** Text of a text frame, several values parted by a null letter; null when it cannot be looked into. */
export function frameText(frame: Id3Frame, version: Id3Version): string | null {
  const content = frameContent(frame, version);
  return content && content.length > 0 ? decodeText(content[0] as number, content.subarray(1)) : null;
}
