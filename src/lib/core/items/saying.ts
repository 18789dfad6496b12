import type { Chapter } from './chapters';
import type { Edits, FieldName, Fields } from './fields';
import type { ChosenPicture, PictureFact, PictureRole } from './pictures';
import type { TimedLine } from './timed-words';
import type { Track, TrackEdit } from './tracks';

/** Everything that is said of an item and can go out with it. */
export interface Content {
  readonly fields: Fields;
  readonly pictures: readonly PictureFact[];
  readonly chapters: readonly Chapter[];
  /** Words with their times; absent where there are none. */
  readonly timed?: readonly TimedLine[];
  /** Of a container that holds several; absent where there is no more than one. */
  readonly tracks?: readonly Track[];
}

/** Each part of content, as what is said of it otherwise than its file does. */
export interface PartEdits {
  readonly fields: Edits;
  /** By the role that each takes in place of the file's own. */
  readonly pictures: { readonly [R in PictureRole]?: ChosenPicture };
  readonly chapters: readonly Chapter[];
  readonly timed: readonly TimedLine[];
  /** By the number of each track, as far as something is said of it. */
  readonly tracks: readonly TrackEdit[];
}

export type PartName = keyof PartEdits;

/**
 * What is said otherwise than the file does, and nothing else: what is absent is as the file has it. Every part of
 * content has its place here, so that undoing, putting back, comparing and writing are the same for all.
 */
export type Overlay = { readonly [P in PartName]?: PartEdits[P] };

/** The least that an item says: its file's content, and what is said over it. */
export interface Saying {
  readonly file: Content;
  readonly edits: Overlay;
}

/** What is to be as the file has it, part by part: fields by their names, pictures by their roles, else all of it. */
export interface PutBack {
  readonly fields?: readonly FieldName[];
  readonly pictures?: readonly PictureRole[];
  readonly chapters?: boolean;
  readonly timed?: boolean;
  readonly tracks?: boolean;
}
