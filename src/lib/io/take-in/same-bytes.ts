/** Bytes of each file that are compared at once. */
const PIECE_BYTES = 1_048_576;

/**
 * Whether two files hold the same bytes. Read piece by piece from their beginnings to where they differ.
 * @throws what reading a file throws; the reason of a signal that ends it
 */
export async function sameBytes(a: Blob, b: Blob, signal?: AbortSignal): Promise<boolean> {
  if (a.size !== b.size) return false;
  for (let at = 0; at < a.size; at += PIECE_BYTES) {
    signal?.throwIfAborted();
    const piece = async (file: Blob) =>
      new Uint8Array(await file.slice(at, Math.min(a.size, at + PIECE_BYTES)).arrayBuffer());
    const [first, second] = await Promise.all([piece(a), piece(b)]);
    if (first.length !== second.length) return false;
    for (let index = 0; index < first.length; index++) if (first[index] !== second[index]) return false;
  }
  return true;
}
