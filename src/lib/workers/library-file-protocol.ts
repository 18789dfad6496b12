import type { PictureId } from '$lib/core/items';
import type { LibraryHead } from '$lib/core/library';

/** Looks through a library file; then hands over what is in the file that was looked through last. */
export type LibraryFileRequest =
  | { readonly type: 'check'; readonly id: number; readonly file: Blob }
  | { readonly type: 'read'; readonly id: number };

/** What a file holds, once all of it has been looked through. */
export interface CheckedFile {
  readonly head: LibraryHead;
  readonly items: number;
  readonly pictures: number;
}

export type LibraryFilePart =
  /** The first items, to be looked at while the rest is looked through. */
  | { readonly type: 'first'; readonly head: LibraryHead; readonly record: string }
  /** Some items, as one record of them is kept: read from text they share what they say alike. */
  | { readonly type: 'items'; readonly record: string }
  | { readonly type: 'picture'; readonly picture: PictureId; readonly blob: Blob }
  /** Parts looked through so far, and in all. */
  | { readonly type: 'progress'; readonly done: number; readonly total: number };
