import type { Span } from '$lib/core/bytes';

/**
 * The file that the spans describe, as a Blob of slices: nothing is copied until a store writes it,
 * so memory stays the size of the tags.
 */
export function spanBlob(original: Blob, spans: readonly Span[]): Blob {
  return new Blob(
    spans.map((span) =>
      span.type === 'kept' ? original.slice(span.start, span.end) : (span.bytes as Uint8Array<ArrayBuffer>),
    ),
  );
}
