import { fnv1a } from '$lib/core/bytes';
import type { PictureFact, PictureRole } from '$lib/core/items';
import { readPictureSize } from './picture-size';

/** What is told of a picture in a file: its bytes are known again by their hash. */
export const pictureFact = (role: PictureRole, mime: string, bytes: Uint8Array): PictureFact => ({
  role,
  ...unplacedFact(mime, bytes),
});

/** The same of one that has no role among a file's pictures, such as a chapter's. */
export function unplacedFact(mime: string, bytes: Uint8Array): Omit<PictureFact, 'role'> {
  const size = readPictureSize(bytes);
  return {
    mime,
    bytes: bytes.length,
    width: size?.width ?? null,
    height: size?.height ?? null,
    hash: fnv1a(bytes),
  };
}
