import type { UnreadFile } from '$lib/core/items';
import type { Guess } from '$lib/core/kinds';
import type { MediaRead } from '$lib/formats/reading';

/** What the page asks of a parsing worker. */
export type ParseRequest =
  | {
      readonly type: 'read';
      readonly id: number;
      readonly path: string;
      readonly file: Blob;
      /** Takes what is there of a file that is cut short. */
      readonly evenCut: boolean;
    }
  | {
      readonly type: 'picture';
      readonly id: number;
      readonly file: Blob;
      readonly of: PictureOf;
    };

/** Which of a file's pictures is asked for: by its place among them, or a chapter's by the hash of its bytes. */
export type PictureOf = { readonly index: number } | { readonly hash: number };

/** What came of reading one file. */
export type ReadOutcome =
  | { readonly type: 'read'; readonly read: MediaRead; readonly guess: Guess }
  | { readonly type: 'unread'; readonly code: UnreadFile['code']; readonly detail: string };

/** One of a file's pictures, or null when it has none at the place asked for. */
export type PictureOutcome = { readonly mime: string; readonly bytes: Uint8Array } | null;
