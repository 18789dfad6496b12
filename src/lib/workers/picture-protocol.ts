import type { PictureOrder } from '$lib/io/pictures';

/** A frame of a moving picture, without loss. */
export interface Frame {
  readonly blob: Blob;
  readonly width: number;
  readonly height: number;
  /** When it is shown, and for how long. */
  readonly startSeconds: number;
  readonly durationSeconds: number;
}

export type PictureRequest =
  /** Makes a picture from another one. */
  | { readonly type: 'make'; readonly id: number; readonly blob: Blob; readonly order: PictureOrder }
  /** The frame that is shown at a time. */
  | { readonly type: 'frame'; readonly id: number; readonly file: Blob; readonly seconds: number };
