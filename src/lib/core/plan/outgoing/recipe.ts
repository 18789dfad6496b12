import { FORMAT_ENDINGS, type Fields, type FormatId, type Overlay } from '../../items';
import type { Kind } from '../../kinds';
import { extensionOf } from '../../paths';

/**
 * How an outgoing file comes to be from its original, for one player: as it is, byte for byte, or with other tags. It is
 * made where item and rulebook meet; whoever writes the file, reads it back or asks for its size asks this.
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
    };

export const AS_IS: Recipe = { type: 'asIs' };

/** The ending of the name of what a recipe makes, without a dot: that of its original, or what its format goes by. */
export const extensionBy = (
  _recipe: Recipe,
  { path, format }: { readonly path: string; readonly format: FormatId },
): string => extensionOf(path) || (FORMAT_ENDINGS[format][0] ?? format);

/** Bytes of a file that a recipe makes of an original of so many; those of new tags are not known before they are made. */
export function sizeBy(
  recipe: Recipe,
  originalBytes: number,
): { readonly bytes: number; readonly isExact: boolean } {
  return { bytes: originalBytes, isExact: recipe.type === 'asIs' };
}
