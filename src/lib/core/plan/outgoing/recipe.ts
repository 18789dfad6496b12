import type { Fields, FormatId, Overlay, PictureRole } from '../../items';
import type { Kind } from '../../kinds';

/**
 * How an outgoing file comes to be from its original, for one player: as it is, byte for byte, or with other tags. It is
 * made where item and rulebook meet; whoever writes the file or reads it back asks this.
 */
export type Recipe =
  | { readonly type: 'asIs' }
  | {
      readonly type: 'retag';
      readonly format: FormatId;
      /** What is written into it. */
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
    };

/** Limits of a picture: pixels of its longer side, and bytes; null for no limit. */
export interface PictureLimits {
  readonly pixels: number | null;
  readonly bytes: number | null;
}

/** Which pictures of a copy are brought within limits. */
export interface SmallerPictures {
  readonly limits: PictureLimits;
  /** Of those that its original holds, by their place among them. */
  readonly own: readonly { readonly index: number; readonly role: PictureRole }[];
  /** Of those that were chosen in the library. */
  readonly chosen: readonly PictureRole[];
}

export const AS_IS: Recipe = { type: 'asIs' };
