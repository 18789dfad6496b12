import { createSHA256 } from 'hash-wasm';
import type { ByteSource } from '$lib/core/bytes';

/** Bytes that are read at once. */
const PIECE_BYTES = 4_194_304;

/** SHA-256 in hexadecimal of all bytes of a source, piece by piece. */
export async function digestOf(source: ByteSource): Promise<string> {
  const hash = await createSHA256();
  for (let at = 0; at < source.size; at += PIECE_BYTES)
    hash.update(await source.read(at, Math.min(source.size, at + PIECE_BYTES)));
  return hash.digest();
}

/** Lets a stream through and takes its SHA-256 while it goes; `digest` gives it once the stream has ended. */
export async function hashingStream(): Promise<{
  readonly through: TransformStream<Uint8Array, Uint8Array>;
  digest(): string;
}> {
  const hash = await createSHA256();
  const through = new TransformStream<Uint8Array, Uint8Array>({
    transform(chunk, out) {
      hash.update(chunk);
      out.enqueue(chunk);
    },
  });
  return { through, digest: () => hash.digest() };
}
