import { ascii, concat } from '$lib/core/bytes';
import { PICTURE_ROLES } from '$lib/core/items';
import type { NewPicture } from '../format';
import type { Id3Frame, Id3Version } from './layout';
import { decodeText, frameContent } from './reader';
import { PICTURE_FRAME } from './tag-map';

/** A picture frame taken apart (ID3v2.3.0, section 4.15; ID3v2.2.0, section 4.15). */
export interface FramedPicture {
  /** Picture type, as the standard counts it; null where the code is none of its own. */
  readonly code: number | null;
  readonly mime: string;
  readonly bytes: Uint8Array;
}

/** Types of pictures as ID3v2.2 names them. */
const SHORT_TYPES: Readonly<Record<string, string>> = { JPG: 'image/jpeg', PNG: 'image/png' };

/** The picture of an APIC or PIC frame, or null when it cannot be looked into. */
export function pictureIn(frame: Id3Frame, version: Id3Version): FramedPicture | null {
  const content = frameContent(frame, version);
  if (!content) return null;
  const wide = content[0] === 1 || content[0] === 2;
  const at = version === 2 ? 4 : content.indexOf(0, 1) + 1;
  if (at === 0) return null;
  const code = content[at];
  if (code === undefined) return null;
  const type = decodeText(0, content.subarray(1, version === 2 ? at : at - 1));
  let end = at + 1;
  while (end < content.length && (content[end] !== 0 || (wide && content[end + 1] !== 0)))
    end += wide ? 2 : 1;
  return {
    code: code < PICTURE_ROLES.length ? code : null,
    mime: mimeOf(type),
    bytes: content.subarray(Math.min(content.length, end + (wide ? 2 : 1))),
  };
}

/** Some programs leave the sort out, or say `jpg` alone. */
function mimeOf(type: string): string {
  const known = SHORT_TYPES[type.toUpperCase()];
  if (known) return known;
  const lower = type.toLowerCase();
  if (lower === 'image/jpg') return 'image/jpeg';
  return lower.includes('/') ? lower : `image/${lower}`;
}

/** A picture's frame, without a description. @param code what it shows, as the standard counts it */
export function pictureFrame(version: Id3Version, code: number, { mime, bytes }: NewPicture): Id3Frame {
  const format = version === 2 ? ascii(mime === 'image/png' ? 'PNG' : 'JPG') : ascii(`${mime}\0`);
  const data = concat([Uint8Array.of(0), format, Uint8Array.of(code, 0), bytes]);
  return { id: PICTURE_FRAME[version], flags: 0, data };
}

/** Whether a frame is a picture's. */
export const isPictureFrame = ({ id }: Id3Frame, version: Id3Version): boolean =>
  id === PICTURE_FRAME[version];
