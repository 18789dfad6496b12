import type { Chapter } from './chapters';
import type { Edits, FieldName, Fields } from './fields';
import type { ChosenPicture, PictureFact, PictureRole } from './pictures';
import type { TimedLine } from './timed-words';
import type { Track, TrackEdit } from './tracks';

/** The whole description of an item that can be written into its copies. */
export interface Content {
  readonly fields: Fields;
  readonly pictures: readonly PictureFact[];
  readonly chapters: readonly Chapter[];
  /** Timed lyrics; absent if there are none. */
  readonly timed?: readonly TimedLine[];
  /** Tracks of a container with several; absent if there is only one. */
  readonly tracks?: readonly Track[];
}

/** The edits of each part of content. */
export interface PartEdits {
  readonly fields: Edits;
  /** By the role in which each replaces the file's own pictures; null removes those. */
  readonly pictures: { readonly [R in PictureRole]?: ChosenPicture | null };
  readonly chapters: readonly Chapter[];
  readonly timed: readonly TimedLine[];
  /** By track number, only for tracks that are edited. */
  readonly tracks: readonly TrackEdit[];
}

export type PartName = keyof PartEdits;

/**
 * What differs from the file, and nothing else: absent parts are as the file has them. Every part of content is in it,
 * so that undo, put back, compare and write work alike for all.
 */
export type Overlay = { readonly [P in PartName]?: PartEdits[P] };

/** The minimum of an item with a description: the content of its file, and its overlay. */
export interface Saying {
  readonly file: Content;
  readonly edits: Overlay;
}

/** The parts to be restored from the file: fields by name, pictures by role, other parts as a whole. */
export interface PutBack {
  readonly fields?: readonly FieldName[];
  readonly pictures?: readonly PictureRole[];
  readonly chapters?: boolean;
  readonly timed?: boolean;
  readonly tracks?: boolean;
}

/** A file beside an item's file, such as a picture or a sidecar, with everything that it says of the item. */
export interface FoundBeside {
  /** Path below the source's root. */
  readonly path: string;
  /** Bytes, and milliseconds since 1970: a file that changed is read again. */
  readonly size: number;
  readonly modified: number;
  /** Everything that it says of the item. */
  readonly says: Overlay;
  /** The curator decided to ignore it. */
  readonly isIgnored?: true;
}
