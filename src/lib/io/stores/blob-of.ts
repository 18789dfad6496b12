import type { ByteSource } from '$lib/core/bytes';

/** Bytes that are read at once. */
const PART = 4_000_000;

/** All bytes of a source, which the browser may keep on its disk. */
export async function blobOf(source: ByteSource): Promise<Blob> {
  const parts: Blob[] = [];
  for (let at = 0; at < source.size; at += PART) {
    const bytes = await source.read(at, Math.min(at + PART, source.size));
    parts.push(new Blob([bytes as Uint8Array<ArrayBuffer>]));
  }
  return new Blob(parts);
}
