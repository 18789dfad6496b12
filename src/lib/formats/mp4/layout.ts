import { ascii, concat, readAscii, readU32, readU64, u32, type ByteSource } from '$lib/core/bytes';
import { FormatError } from '../format';

/** A box (ISO/IEC 14496-12, section 4.2). Offsets count from the start of what was parsed. */
export interface Box {
  readonly type: string;
  readonly start: number;
  /** First byte of its content. */
  readonly content: number;
  readonly end: number;
}

/** Boxes inside a run of bytes. A remainder of under 8 bytes, such as the closing zero of older movie files, is left out. */
export function parseBoxes(bytes: Uint8Array, from = 0, to = bytes.length): Box[] {
  const boxes: Box[] = [];
  let at = from;
  while (at + 8 <= to) {
    const box = boxAt(bytes.subarray(at, at + 16), at, to);
    if (!box) break;
    boxes.push(box);
    at = box.end;
  }
  return boxes;
}

function boxAt(header: Uint8Array, at: number, limit: number): Box | null {
  const short = readU32(header, 0);
  const size = short === 1 ? readU64(header, 8) : short === 0 ? limit - at : short;
  const content = at + (short === 1 ? 16 : 8);
  if (at + size < content || at + size > limit) return null;
  return { type: readAscii(header, 4, 4), start: at, content, end: at + size };
}

/**
 * The outermost boxes of a file.
 * @throws {FormatError} `damaged` when a box passes the end: the file is cut short
 */
export async function readTopBoxes(source: ByteSource): Promise<Box[]> {
  const boxes: Box[] = [];
  for (let at = 0; at + 8 <= source.size && boxes.length < 100_000;) {
    const box = boxAt(await source.read(at, at + 16), at, source.size);
    if (!box) throw new FormatError('damaged', `the box at byte ${at} passes the end of the file`);
    boxes.push(box);
    at = box.end;
  }
  return boxes;
}

/** A box with this content. */
export function makeBox(type: string, ...content: readonly Uint8Array[]): Uint8Array {
  const length = content.reduce((sum, part) => sum + part.length, 8);
  return concat([u32(length), ascii(type), ...content]);
}

/** The first box of this type, or null. */
export function findBox(boxes: readonly Box[], type: string): Box | null {
  return boxes.find((box) => box.type === type) ?? null;
}

/** Follows types downwards inside `bytes`; null when one of them is missing. */
export function findPath(bytes: Uint8Array, within: Box, ...types: readonly string[]): Box | null {
  let box: Box | null = within;
  for (const type of types) {
    box = box && findBox(parseBoxes(bytes, box.content, box.end), type);
  }
  return box;
}
