import {
  ascii,
  concat,
  readAscii,
  readPartHead,
  readU32,
  readU64,
  skim,
  u32,
  type ByteSource,
} from '$lib/core/bytes';
import { FormatError, MOST_OUTER_PARTS, limitParts } from '../format';

/** A box (ISO/IEC 14496-12, section 4.2). Offsets count from the start of what was parsed. */
export interface Box {
  readonly type: string;
  readonly start: number;
  /** First byte of its content. */
  readonly content: number;
  readonly end: number;
}

/**
 * Boxes inside a run of bytes. A remainder of under 8 bytes is left out, and all behind a size of zero: only at the
 * outermost level does that stand for a box to the end; inside, it closes the list as older movie files do.
 */
export function parseBoxes(bytes: Uint8Array, from = 0, to = bytes.length): Box[] {
  const boxes: Box[] = [];
  let at = from;
  while (at + 8 <= to) {
    const box = readU32(bytes, at) === 0 ? null : boxAt(bytes.subarray(at, at + 16), at, to);
    if (!box) break;
    limitParts(boxes.length, 'boxes in one box');
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
 * The outermost boxes of a file. Of one in many fragments, those behind the first ten thousand are left out.
 * @param evenCut takes a last box that passes the end as far as it goes
 * @throws {FormatError} `cutShort` when a box passes the end, `tooMuch` with more boxes than real files have
 */
export async function readTopBoxes(source: ByteSource, evenCut = false): Promise<Box[]> {
  const boxes: Box[] = [];
  let at = 0;
  while (at + 8 <= source.size) {
    const header = await readPartHead(source, boxes.length, at, at + 16);
    const box = boxAt(header, at, source.size);
    if (!box) {
      if (!evenCut) throw new FormatError('cutShort', `the box at byte ${at} passes the end of the file`);
      const content = at + (readU32(header, 0) === 1 ? 16 : 8);
      boxes.push({ type: readAscii(header, 4, 4), start: at, content, end: source.size });
      return boxes;
    }
    if (boxes.length === MOST_OUTER_PARTS && boxes.some(({ type }) => type === 'moof')) return boxes;
    limitParts(boxes.length, 'outermost boxes', MOST_OUTER_PARTS);
    boxes.push(box);
    at = box.end;
  }
  const rest = at < source.size ? await skim(source, at, source.size) : new Uint8Array(0);
  // Some programs close a file with a few zeros; anything else is the beginning of a box.
  if (!evenCut && rest.some((byte) => byte !== 0))
    throw new FormatError('cutShort', 'the last box breaks off in its header');
  return boxes;
}

/** Boxes that hold boxes, as far as they are looked into. */
const CONTAINERS = new Set([
  'trak',
  'mdia',
  'minf',
  'stbl',
  'udta',
  'meta',
  'ilst',
  'tref',
  'edts',
  'mvex',
  '----',
]);
const DEEPEST = 12;

/**
 * Counts boxes within boxes, so that a file of millions of empty ones is told before anything walks through them.
 * @throws {FormatError} `tooMuch`
 */
export function checkBoxCount(bytes: Uint8Array, from: number, to: number): void {
  let count = 0;
  const walk = (start: number, end: number, depth: number) => {
    if (depth > DEEPEST) throw new FormatError('tooMuch', 'boxes nested deeper than any real ones');
    for (const box of parseBoxes(bytes, start, end)) {
      limitParts(++count, 'boxes');
      if (!CONTAINERS.has(box.type)) continue;
      const skipped = box.type === 'meta' && readAscii(bytes, box.content + 4, 4) !== 'hdlr' ? 4 : 0;
      walk(box.content + skipped, box.end, depth + 1);
    }
  };
  walk(from, to, 0);
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

/** A box with one of its child boxes replaced, or the new one appended where there was none. */
export function replaceBox(bytes: Uint8Array, parent: Box, old: Box | null, fresh: Uint8Array): Uint8Array {
  const children = parseBoxes(bytes, parent.content, parent.end);
  const childrenEnd = children.at(-1)?.end ?? parent.content;
  const start = old?.start ?? childrenEnd;
  const end = old?.end ?? childrenEnd;
  return makeBox(parent.type, bytes.subarray(parent.content, start), fresh, bytes.subarray(end, parent.end));
}
