import { joinedSource, lastAtOrBefore, type ByteRange, type ByteSource } from './byte-source';

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

/** Whether all bytes of `range` are kept, in one piece and in order. */
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
 * The origin of bytes of the new file: a function from their range to the position of the first one in the original, or
 * null if not all of them are kept together.
 */
export function spanOrigins(spans: readonly Span[]): (start: number, end: number) => number | null {
  const starts: number[] = [];
  let at = 0;
  for (const span of spans) {
    starts.push(at);
    at += span.type === 'new' ? span.bytes.length : span.end - span.start;
  }
  const length = at;
  return (start, end) => {
    if (start < 0 || end <= start || end > length) return null;
    let index = lastAtOrBefore(starts, start);
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

/** The file that spans describe, read from the one that they are of. */
export const spanSource = (original: ByteSource, spans: readonly Span[]): ByteSource =>
  joinedSource(
    original,
    spans.map((span) => (span.type === 'new' ? span.bytes : { start: span.start, end: span.end })),
  );

/** The result of two rewritings, one after the other. @param second spans of the file that `first` describes */
export function composeSpans(first: readonly Span[], second: readonly Span[]): readonly Span[] {
  const starts: number[] = [];
  let length = 0;
  for (const span of first) {
    starts.push(length);
    length += span.type === 'new' ? span.bytes.length : span.end - span.start;
  }
  return second.flatMap((span) => {
    if (span.type === 'new') return [span];
    const parts: Span[] = [];
    for (let index = lastAtOrBefore(starts, span.start); index < first.length; index++) {
      const [own, base] = [first[index] as Span, starts[index] as number];
      if (base >= span.end) break;
      const [from, to] = [
        Math.max(span.start - base, 0),
        Math.min(span.end, starts[index + 1] ?? length) - base,
      ];
      if (to <= from) continue;
      parts.push(
        own.type === 'new' ? fresh(own.bytes.subarray(from, to)) : kept(own.start + from, own.start + to),
      );
    }
    return parts;
  });
}
