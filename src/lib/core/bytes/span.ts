import type { ByteRange, ByteSource } from './byte-source';

/**
 * A rewrite of a file is an ordered list of spans: ranges of the original that are kept, and new
 * bytes between them. What is kept cannot differ from the original, since it is never copied here.
 */
export type Span =
  | { readonly type: 'kept'; readonly start: number; readonly end: number }
  | { readonly type: 'new'; readonly bytes: Uint8Array };

export const kept = (start: number, end: number): Span => ({ type: 'kept', start, end });
export const fresh = (bytes: Uint8Array): Span => ({ type: 'new', bytes });

/** Length in bytes of the file that the spans describe. */
export function spansLength(spans: readonly Span[]): number {
  return spans.reduce(
    (sum, span) => sum + (span.type === 'kept' ? span.end - span.start : span.bytes.length),
    0,
  );
}

/** Whether every byte of `range` is kept, in one piece and in order. */
export function keepsRange(spans: readonly Span[], range: ByteRange): boolean {
  let reached = range.start;
  for (const span of spans) {
    if (span.type !== 'kept' || span.end <= reached || span.start > reached) continue;
    reached = Math.max(reached, Math.min(span.end, range.end));
    if (reached >= range.end) return true;
  }
  return reached >= range.end;
}

/** The described file in memory. For tests and small files; stores take the spans as a Blob. */
export async function joinSpans(original: ByteSource, spans: readonly Span[]): Promise<Uint8Array> {
  const out = new Uint8Array(spansLength(spans));
  let at = 0;
  for (const span of spans) {
    const bytes = span.type === 'new' ? span.bytes : await original.read(span.start, span.end);
    out.set(bytes, at);
    at += bytes.length;
  }
  return out;
}

/**
 * Where bytes of the new file lay in the original: a function of their range that answers with the first one's place
 * there, or null where not all of them are kept, or not together.
 */
export function spanOrigins(spans: readonly Span[]): (start: number, end: number) => number | null {
  const starts: number[] = [];
  let at = 0;
  for (const span of spans) {
    starts.push(at);
    at += span.type === 'new' ? span.bytes.length : span.end - span.start;
  }
  const length = at;
  const indexAt = (place: number): number => {
    let [low, high] = [0, starts.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((starts[middle] as number) <= place) low = middle;
      else high = middle - 1;
    }
    return low;
  };
  return (start, end) => {
    if (start < 0 || end <= start || end > length) return null;
    let index = indexAt(start);
    const first = spans[index];
    if (first?.type !== 'kept') return null;
    const origin = first.start + start - (starts[index] as number);
    for (let next = first.end; (starts[++index] ?? length) < end;) {
      const span = spans[index];
      if (span?.type !== 'kept' || span.start !== next) return null;
      next = span.end;
    }
    return origin;
  };
}
