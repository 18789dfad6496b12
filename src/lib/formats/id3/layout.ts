/** Offsets and flags of ID3v2 (id3.org: ID3v2.2.0, ID3v2.3.0 section 3, ID3v2.4.0-structure section 3-5). */

export type Id3Version = 2 | 3 | 4;

export const HEADER_BYTES = 10;
export const ID3V1_BYTES = 128;

export const TAG_UNSYNC = 0x80;
export const TAG_EXTENDED = 0x40;
export const TAG_FOOTER = 0x10;

/** ID3v2.4 frame format flags (structure, section 4.1.2). */
export const FRAME24_UNSYNC = 0x0002;
export const FRAME24_LENGTH = 0x0001;
export const FRAME24_COMPRESSED = 0x0008;
/** Encrypted frames are carried, never looked into. */
export const FRAME24_ENCRYPTED = 0x0004;
export const FRAME24_GROUPED = 0x0040;
export const FRAME23_COMPRESSED = 0x0080;
export const FRAME23_ENCRYPTED = 0x0040;
export const FRAME23_GROUPED = 0x0020;

export interface Id3Frame {
  /** Four letters, three in ID3v2.2. */
  readonly id: string;
  /** Both flag bytes; 0 in ID3v2.2. */
  readonly flags: number;
  /** The frame's body as the file has it. */
  readonly data: Uint8Array;
}

export interface Id3Tag {
  readonly version: Id3Version;
  /** Flags of the tag's header. */
  readonly flags: number;
  readonly frames: readonly Id3Frame[];
  /** Bytes of the whole tag in the file: header, frames, padding and footer. */
  readonly size: number;
}

/** A 28-bit number in four bytes, seven bits each (structure, section 6.2). */
export function readSyncSafe(b: Uint8Array, at: number): number {
  return (
    (((b[at] ?? 0) & 0x7f) << 21) |
    (((b[at + 1] ?? 0) & 0x7f) << 14) |
    (((b[at + 2] ?? 0) & 0x7f) << 7) |
    ((b[at + 3] ?? 0) & 0x7f)
  );
}

export function syncSafe(value: number): Uint8Array {
  return Uint8Array.of((value >>> 21) & 0x7f, (value >>> 14) & 0x7f, (value >>> 7) & 0x7f, value & 0x7f);
}
