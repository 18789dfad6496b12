import type { ItemId } from './item';

/** A stretch of an item's sound. Seconds; null for its end. */
export interface SoundPart {
  readonly item: ItemId;
  readonly fromSeconds: number;
  readonly toSeconds: number | null;
}

/** How the file of an item was made from others: several joined, or a part of one. */
export interface MadeFrom {
  readonly parts: readonly SoundPart[];
  /** What its sound was encoded to, as recipes call it. */
  readonly codec: string;
  readonly fadeInSeconds: number;
  readonly fadeOutSeconds: number;
  /** What the files of those items were then: bytes, and milliseconds since 1970. */
  readonly from: readonly { readonly item: ItemId; readonly size: number; readonly modified: number }[];
}
