import { spansLength, type Span } from '$lib/core/bytes';
import { createScratch } from './scratch';
import { wholeFile } from './whole-file';

/** Slices of one Blob: each costs the browser about as much as a megabyte that is copied. */
const MOST_SLICES = 500;
/** Bytes that are read, or written, at once. */
const AT_ONCE = 8 * 1024 * 1024;

/**
 * The file that the spans describe. Made of slices of the original, so nothing is copied until it is stored; if there
 * are too many, as in a film without one of its tracks, it is written to a temporary file.
 * @throws {DOMException} `QuotaExceededError` if there is no room for that
 */
export async function spanBlob(original: Blob, spans: readonly Span[]): Promise<Blob> {
  if (spans.length > MOST_SLICES) return writeOut(original, spans);
  return new Blob(
    spans.map((span) =>
      span.type === 'kept' ? original.slice(span.start, span.end) : (span.bytes as Uint8Array<ArrayBuffer>),
    ),
  );
}

async function writeOut(original: Blob, spans: readonly Span[]): Promise<Blob> {
  const { file } = await wholeFile(await createScratch(), async (writeAt) => {
    let at = 0;
    for await (const bytes of spanBytes(original, spans)) {
      writeAt(bytes, at);
      at += bytes.length;
    }
    if (at !== spansLength(spans)) throw new DOMException('the original ends too early', 'NotReadableError');
  });
  return file;
}

/** The bytes that the spans describe, some at a time: each piece is good until the next one is asked for. */
export async function* spanBytes(
  original: Blob,
  spans: readonly Span[],
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  const out = new Uint8Array(Math.min(AT_ONCE, spansLength(spans)));
  let filled = 0;
  let window = new Uint8Array(0);
  let from = 0;
  for (const span of spans) {
    const end = span.type === 'new' ? span.bytes.length : span.end;
    for (let at = span.type === 'new' ? 0 : span.start; at < end;) {
      if (filled === out.length) {
        yield out;
        filled = 0;
      }
      if (span.type === 'kept' && (at < from || at >= from + window.length)) {
        from = at;
        window = new Uint8Array(await original.slice(at, at + AT_ONCE).arrayBuffer());
        if (window.length === 0) return;
      }
      const [bytes, base] = span.type === 'new' ? [span.bytes, 0] : [window, from];
      const piece = bytes.subarray(at - base, Math.min(end - base, at - base + out.length - filled));
      out.set(piece, filled);
      filled += piece.length;
      at += piece.length;
    }
  }
  if (filled > 0) yield out.subarray(0, filled);
}
