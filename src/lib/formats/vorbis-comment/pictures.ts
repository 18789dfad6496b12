import { codeOfRole, type PictureRole } from '$lib/core/items';
import type { NewPicture } from '../format';
import { parsePictureBlock, pictureBlockBytes, type PictureBlock } from './picture-block';

/* Pictures inside comments: a PICTURE block of FLAC in base64 (RFC 7845, section 5.2.1 leaves it to this convention). */

/** The comment that holds one. */
export const PICTURE_COMMENT = 'METADATA_BLOCK_PICTURE';
/** An older convention: the bytes of a front picture alone, with their MIME type beside them. */
const EARLIER_PICTURE = 'COVERART';
const EARLIER_MIME = 'COVERARTMIME';

/** Bytes that become text at once: a call takes no more arguments than some ten thousand. */
const AT_ONCE = 8192;

function toBase64(bytes: Uint8Array): string {
  let letters = '';
  for (let at = 0; at < bytes.length; at += AT_ONCE)
    letters += String.fromCharCode(...bytes.subarray(at, at + AT_ONCE));
  return btoa(letters);
}

/** Null where it is no base64. */
function fromBase64(text: string): Uint8Array | null {
  try {
    const letters = atob(text.trim());
    // One by one: a picture has millions, and going through a text by its letters as texts costs ten times as much.
    const bytes = new Uint8Array(letters.length);
    for (let at = 0; at < letters.length; at++) bytes[at] = letters.charCodeAt(at);
    return bytes;
  } catch {
    return null;
  }
}

export const isPictureName = (name: string): boolean =>
  name === PICTURE_COMMENT || name === EARLIER_PICTURE || name === EARLIER_MIME;

/** The pictures of comments in their order. One that cannot be read is none. */
export function picturesIn(
  entries: readonly (readonly [name: string, value: string])[],
): readonly PictureBlock[] {
  const mime = entries.find(([name]) => name === EARLIER_MIME)?.[1] ?? 'image/jpeg';
  return entries.flatMap(([name, value]): PictureBlock[] => {
    if (name === PICTURE_COMMENT) {
      const block = blockIn(value);
      return block ? [block] : [];
    }
    const bytes = name === EARLIER_PICTURE ? fromBase64(value) : null;
    return bytes ? [{ code: codeOfRole('front'), mime, bytes }] : [];
  });
}

function blockIn(text: string): PictureBlock | null {
  const block = fromBase64(text);
  if (!block) return null;
  try {
    return parsePictureBlock(block);
  } catch {
    return null;
  }
}

/**
 * Whether an entry goes when pictures of these roles come, or null in their place: for a new front one of no stated role
 * too, where there is no other.
 */
export function pictureGoes(
  changes: ReadonlyMap<PictureRole, NewPicture | null>,
  pictures: readonly (readonly [name: string, value: string])[],
): (name: string, value: string) => boolean {
  const codes = new Set([...changes.keys()].map(codeOfRole));
  const codeOf = (value: string) => blockIn(value)?.code ?? null;
  const own = pictures.filter(([name]) => name === PICTURE_COMMENT).map(([, value]) => codeOf(value));
  const takesOther = Boolean(changes.get('front')) && !own.includes(codeOfRole('front'));
  let left = takesOther ? 1 : 0;
  return (name, value) => {
    if (name !== PICTURE_COMMENT) return changes.has('front') && isPictureName(name);
    const code = codeOf(value);
    if (code !== null && codes.has(code)) return true;
    return code === codeOfRole('other') && left-- > 0;
  };
}

export const pictureText = (role: PictureRole, picture: NewPicture): string =>
  toBase64(pictureBlockBytes(role, picture));
