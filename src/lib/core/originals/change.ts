import { fresh, kept, spansLength, type ByteSource, type Span } from '../bytes';

/** Bytes that are written over others, from a place in the file on. */
export interface WrittenOver {
  readonly at: number;
  readonly bytes: Uint8Array;
}

/** How a file is changed. */
export interface FileChange {
  readonly spans: readonly Span[];
  /** Length of the file afterwards, in bytes. */
  readonly length: number;
  /** The pieces to write if all other bytes stay in place; null if the whole file is written. */
  readonly over: readonly WrittenOver[] | null;
}

/** Whether spans allow a file to be overwritten in places or require it to be written as a whole. */
export function changeOf(spans: readonly Span[]): FileChange {
  const over: WrittenOver[] = [];
  let at = 0;
  let stays = true;
  for (const span of spans) {
    if (span.type === 'new') over.push({ at, bytes: span.bytes });
    else if (span.start !== at) stays = false;
    at += span.type === 'new' ? span.bytes.length : span.end - span.start;
  }
  return {
    spans,
    length: spansLength(spans),
    over: stays ? over.filter(({ bytes }) => bytes.length > 0) : null,
  };
}

/**
 * The way back: the spans of the changed file that describe the original, byte for byte. What the change does not keep
 * is read and held in them; memory is the size of that.
 */
export async function backOf(original: ByteSource, spans: readonly Span[]): Promise<readonly Span[]> {
  const there: { start: number; end: number; now: number }[] = [];
  let now = 0;
  for (const span of spans) {
    if (span.type === 'kept') there.push({ start: span.start, end: span.end, now });
    now += span.type === 'new' ? span.bytes.length : span.end - span.start;
  }
  there.sort((a, b) => a.start - b.start);
  const back: Span[] = [];
  let at = 0;
  // A copy, because the cache returns a view of a whole block, which would be kept in memory.
  const hold = async (end: number) => back.push(fresh((await original.read(at, end)).slice()));
  for (const part of there) {
    if (part.end <= at) continue;
    if (part.start > at) await hold(part.start);
    const from = Math.max(part.start, at);
    back.push(kept(part.now + from - part.start, part.now + part.end - part.start));
    at = part.end;
  }
  if (at < original.size) await hold(original.size);
  return back;
}
