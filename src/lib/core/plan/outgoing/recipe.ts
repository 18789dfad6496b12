import type { Fields, FormatId, Overlay, PictureRole } from '../../items';
import type { Kind } from '../../kinds';
import type { TwinId } from '../../twins';
import type { OwnPicture } from './plan-item';

/**
 * How a copy is made from its original for one player: byte for byte, with other tags, or from a twin into which the
 * item's description is written. Made from item and rulebook, and used by all that write the file or read it back.
 */
export type Recipe =
  | { readonly type: 'asIs' }
  | ({ readonly type: 'retag' } & Retagging)
  | ({
      readonly type: 'twin';
      /** The twin that it is made from, which holds only video and audio. */
      readonly twin: TwinId;
      /** Bytes of the twin and of the pictures that are added. */
      readonly size: number;
      /** Pictures of the original that are added. */
      readonly pictures: readonly OwnPicture[];
    } & Retagging);

/** What is written into a file, and what it must contain afterwards. */
export interface Retagging {
  readonly format: FormatId;
  /** What will be written into it. */
  readonly changes: Overlay;
  /** The fields that must be read back. */
  readonly expect: Fields;
  /** The kind that its tags state, for programs that use it; null leaves it as it is. */
  readonly kind: Kind | null;
  /** The ID3v2 version that its tag is converted to; null leaves it as it is. */
  readonly id3: 3 | null;
  /** The encoding of its texts; absent for the default of the format. */
  readonly encoding?: 'latin1';
  /** Pictures that are scaled down; absent if all stay as they are. */
  readonly smaller?: SmallerPictures;
}

/** Limits of a picture: pixels of its longer side, and bytes; null for no limit. */
export interface PictureLimits {
  readonly pixels: number | null;
  readonly bytes: number | null;
}

/** The pictures of a copy that are scaled down. */
export interface SmallerPictures {
  readonly limits: PictureLimits;
  /** Pictures in its original, by their position. */
  readonly own: readonly OwnPicture[];
  /** Pictures that were chosen in the library. */
  readonly chosen: readonly PictureRole[];
}

export const AS_IS: Recipe = { type: 'asIs' };

/**
 * Bytes of a file made by a recipe, without the texts in its tags.
 * @param original bytes of the file that it is made from
 */
export const bytesBy = (recipe: Recipe, original: number): number =>
  recipe.type === 'twin' ? recipe.size : original;
