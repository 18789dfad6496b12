import type { UnreadFile } from '$lib/core/items';
import { nameOf } from '$lib/core/paths';

/** Why a file was not taken in, and what to do about it. */
export function unreadWords({ code, detail }: UnreadFile): { readonly why: string; readonly remedy: string } {
  switch (code) {
    case 'empty':
      return { why: 'the file is empty', remedy: 'get it again from its source' };
    case 'cutShort':
      return { why: `cut short: ${detail}`, remedy: 'get it again from its source' };
    case 'tooMuch':
      return {
        why: `too complex to read: ${detail}`,
        remedy: 'it is damaged or malicious; get it again from its source',
      };
    case 'notMedia':
      return {
        why: 'not a known audio or video file, whatever its name says',
        remedy: 'open it in a text editor, or rename it',
      };
    case 'otherMedia':
      return {
        why: `${detail}, which is not supported`,
        remedy: 'convert it first: audio to FLAC, video to MP4',
      };
    case 'double':
      return {
        why: `identical to ${nameOf(detail)} in the same folder`,
        remedy: 'nothing to do: it is taken in if that file goes',
      };
    case 'otherwise':
      return {
        why: `not what its name says: it contains ${detail}`,
        remedy: 'rename it with the right extension and take it in again',
      };
    case 'unreachable':
      return {
        why: `could not be opened: ${detail}`,
        remedy: 'check that it is still there and can be read',
      };
    case 'brokenOff':
      return { why: `download broke off: ${detail}`, remedy: 'take it in again; what has arrived is kept' };
    case 'digestDiffers':
      return {
        why: 'its content does not match its checksum',
        remedy: 'take it in again; if it fails again, tell its owner',
      };
    case 'unknownFormat':
      return { why: `cannot be read: ${detail}`, remedy: 'check whether another program plays it' };
  }
}
