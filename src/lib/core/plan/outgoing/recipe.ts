import type { Fields, FormatId, Overlay, PictureRole } from '../../items';
import type { Kind } from '../../kinds';
import type { TwinId } from '../../twins';
import type { OwnPicture } from './plan-item';

/**
 * How an outgoing file comes to be from its original, for one player: as it is, byte for byte, with other tags, or by a
 * twin, into which all that is said of the item is laid. It is made where item and rulebook meet; whoever writes the file
 * or reads it back asks this.
 */
export type Recipe =
  | { readonly type: 'asIs' }
  | ({ readonly type: 'retag' } & Retagging)
  | ({
      readonly type: 'twin';
      /** The file of pictures and sound alone that it is made from. */
      readonly twin: TwinId;
      /** Bytes of that, and of the pictures that go along. */
      readonly size: number;
      /** Pictures of the original that go along. */
      readonly pictures: readonly OwnPicture[];
    } & Retagging);

/** What is to be written into a file, and all that it is to say then. */
export interface Retagging {
  readonly format: FormatId;
  /** What will be written into it. */
  readonly changes: Overlay;
  /** All that it must say when it is read back. */
  readonly expect: Fields;
  /** What its tags are to name it as, for programs that go by that; null leaves them as they are. */
  readonly kind: Kind | null;
  /** The version of ID3v2 that its tag is brought to; null where it stays. */
  readonly id3: 3 | null;
  /** What its texts are written in; absent for whatever their writer writes. */
  readonly encoding?: 'latin1';
  /** Pictures that are brought within limits; absent where all stay as they are. */
  readonly smaller?: SmallerPictures;
}

/** Limits of a picture: pixels of its longer side, and bytes; null for no limit. */
export interface PictureLimits {
  readonly pixels: number | null;
  readonly bytes: number | null;
}

/** Which pictures of a copy are brought within limits. */
export interface SmallerPictures {
  readonly limits: PictureLimits;
  /** Of those that its original holds, by their place among them. */
  readonly own: readonly OwnPicture[];
  /** Of those that were chosen in the library. */
  readonly chosen: readonly PictureRole[];
}

export const AS_IS: Recipe = { type: 'asIs' };

/** Bytes of what is made by a recipe, but for the words in its tags. @param original bytes of what it is made from */
export const bytesBy = (recipe: Recipe, original: number): number =>
  recipe.type === 'twin' ? recipe.size : original;
