import type { UnreadFile } from '$lib/core/items';
import { nameOf } from '$lib/core/paths';

/** Why a file was not taken in, and what to do about it. */
export function unreadWords({ code, detail }: UnreadFile): { readonly why: string; readonly remedy: string } {
  switch (code) {
    case 'empty':
      return { why: 'the file holds no bytes', remedy: 'fetch it again from where it came' };
    case 'cutShort':
      return { why: `cut short: ${detail}`, remedy: 'fetch it again from where it came' };
    case 'tooMuch':
      return {
        why: `asks for more work than a file is given: ${detail}`,
        remedy: 'it is damaged, or made to do harm; fetch it again from where it came',
      };
    case 'notMedia':
      return {
        why: 'not what its name says: no known sound or video begins like this',
        remedy: 'open it in a text editor, or rename it',
      };
    case 'otherMedia':
      return {
        why: `${detail}, which is not taken in`,
        remedy: 'it needs a converted copy first: FLAC for sound, MP4 for video',
      };
    case 'double':
      return {
        why: `the same as ${nameOf(detail)} beside it, byte for byte`,
        remedy: 'nothing: it comes in by itself once that one is gone',
      };
    case 'otherwise':
      return {
        why: `not what its name says: inside it is ${detail}`,
        remedy: 'give it the right ending and take it in again',
      };
    case 'unreachable':
      return {
        why: `could not be opened: ${detail}`,
        remedy: 'see whether it is still there and may be read',
      };
    case 'brokenOff':
      return { why: `did not come through: ${detail}`, remedy: 'take it in again: what came is kept' };
    case 'digestDiffers':
      return {
        why: 'its bytes are not those that were promised',
        remedy: 'take it in again; if it stays so, tell its owner',
      };
    case 'unknownFormat':
      return { why: `cannot be made sense of: ${detail}`, remedy: 'see whether another program plays it' };
  }
}
