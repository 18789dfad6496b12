import { fnv1a } from '$lib/core/bytes';
import type { PictureFact, PictureRole } from '$lib/core/items';
import { readPictureSize } from './picture-size';

/** What is told of a picture in a file: its bytes are known again by their hash. */
export function pictureFact(role: PictureRole, mime: string, bytes: Uint8Array): PictureFact {
  const size = readPictureSize(bytes);
  return {
    role,
    mime,
    bytes: bytes.length,
    width: size?.width ?? null,
    height: size?.height ?? null,
    hash: fnv1a(bytes),
  };
}
