import type { ByteSource } from '$lib/core/bytes';

/** A file or blob as a byte source: every read is one slice. */
export function blobSource(blob: Blob): ByteSource {
  return {
    size: blob.size,
    read: async (start, end) => new Uint8Array(await blob.slice(start, end).arrayBuffer()),
  };
}
