import type {
  Decisions,
  GatherItem,
  Gathering,
  LineFile,
  ReferenceEntry,
  ReferenceRelease,
} from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';

/** The identifying worker keeps a mirror of the items, so that only what changed is sent. */
export type IdentifyRequest =
  | {
      readonly type: 'items';
      readonly id: number;
      readonly changed: readonly GatherItem[];
      readonly removed: readonly ItemId[];
    }
  | { readonly type: 'gather'; readonly id: number }
  | {
      readonly type: 'rank';
      readonly id: number;
      readonly files: readonly LineFile[];
      readonly words: string;
      readonly releases: readonly ReferenceRelease[];
    }
  | {
      readonly type: 'lineUp';
      readonly id: number;
      readonly files: readonly LineFile[];
      readonly entries: readonly ReferenceEntry[];
      readonly decisions: Decisions;
    };

/** Gatherings that are new or not what they were. */
export type GatheredPart = readonly Gathering[];
