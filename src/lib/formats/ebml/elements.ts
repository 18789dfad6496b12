import { readPartHead, UTF8, type ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_TAG_BYTES, limitParts } from '../format';

/** An element of EBML (RFC 8794, section 4). Offsets count from the start of what it was found in. */
export interface Element {
  readonly id: number;
  readonly start: number;
  readonly content: number;
  readonly end: number;
  /** It tells no size, and goes as far as what holds it. */
  readonly isOpen: boolean;
}

/** A variable-length number (RFC 8794, section 4). `keepMark` keeps the length mark, as ids do. */
export function readVint(
  b: Uint8Array,
  at: number,
  keepMark: boolean,
): { value: number; length: number; unknown: boolean } | null {
  const first = b[at];
  if (first === undefined || first === 0) return null;
  const length = Math.clz32(first) - 23;
  if (at + length > b.length) return null;
  let value = keepMark ? first : first & (0xff >> length);
  let unknown = (first & (0xff >> length)) === 0xff >> length;
  for (let i = 1; i < length; i++) {
    value = value * 256 + (b[at + i] as number);
    unknown &&= b[at + i] === 0xff;
  }
  return { value, length, unknown };
}

/**
 * The element whose header stands at `at`, or null.
 * @param offset of that header in what holds it
 * @param limit where that ends
 */
export function elementAt(b: Uint8Array, at: number, offset: number, limit: number): Element | null {
  const id = readVint(b, at, true);
  const size = id && readVint(b, at + id.length, false);
  if (!id || !size) return null;
  const content = offset + id.length + size.length;
  const end = size.unknown ? limit : content + size.value;
  return { id: id.value, start: offset, content, end, isOpen: size.unknown };
}

/** The element whose header begins at `at`, or null. @param index counts it among its neighbours */
export async function readElement(source: ByteSource, at: number, index = 0): Promise<Element | null> {
  return elementAt(await readPartHead(source, index, at, at + 16), 0, at, source.size);
}

/** Elements other than clusters are small. @throws {FormatError} `tooMuch` for one that says otherwise and could be */
export async function readContent(source: ByteSource, { content, end }: Element): Promise<Uint8Array | null> {
  if (end > source.size) return null;
  if (end - content > MOST_TAG_BYTES) throw new FormatError('tooMuch', 'an element of over 32 MiB');
  return source.read(content, end);
}

/** Elements inside one element: a chapter for every second of a long film is still fewer. */
const MOST_CHILDREN = 5000;

/** @throws {FormatError} `tooMuch` with more than `most` of them */
export function children(b: Uint8Array, most = MOST_CHILDREN): Element[] {
  const elements: Element[] = [];
  for (let at = 0; at < b.length;) {
    const element = elementAt(b, at, at, b.length);
    if (!element || element.end > b.length) break;
    limitParts(elements.length, 'elements in one element', most);
    elements.push(element);
    at = element.end;
  }
  return elements;
}

/** Content of the first element of this id; looked for no further than among the first few hundred. */
export function bytesOf(b: Uint8Array, id: number): Uint8Array | null {
  for (let at = 0, count = 0; at < b.length && count < 500; count++) {
    const element = elementAt(b, at, at, b.length);
    if (!element || element.end > b.length) return null;
    if (element.id === id) return b.subarray(element.content, element.end);
    at = element.end;
  }
  return null;
}

export function number(b: Uint8Array, id: number): number | null {
  const bytes = bytesOf(b, id);
  return bytes && bytes.reduce((value, byte) => value * 256 + byte, 0);
}

export function float(b: Uint8Array, id: number): number | null {
  const bytes = bytesOf(b, id);
  if (!bytes) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  return bytes.length === 4 ? view.getFloat32(0) : bytes.length === 8 ? view.getFloat64(0) : null;
}

export function text(b: Uint8Array, id: number): string | null {
  const bytes = bytesOf(b, id);
  return bytes && UTF8.decode(bytes).replace(/\0+$/, '');
}
