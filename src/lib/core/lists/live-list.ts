import type { OwnOrder } from '../browse';
import type { ItemId, SourceId } from '../items';
import type { RuleProblem } from './holding';
import type { ListId, PlayList } from './list';

/** What a list comes to. */
export interface ListDigest {
  readonly id: ListId;
  /** Entries that are in it, open ones included. */
  readonly count: number;
  readonly seconds: number;
  readonly bytes: number;
  /** Entries that no item of the library stands for. */
  readonly open: number;
  /** Items that its rule finds beyond its limit. */
  readonly beyond: number;
  /** What of its limit is used: items, seconds or bytes. Null where it has none. */
  readonly cap: { readonly used: number; readonly most: number } | null;
  readonly problem: RuleProblem | null;
}

/** The items of a list, in its order, and those that its rule finds beyond its limit. */
export interface ListedItems {
  readonly items: readonly ItemId[];
  readonly beyond: readonly ItemId[];
}

/** What lists ask of an item beside what queries do. */
export interface Listable {
  readonly id: ItemId;
  readonly source: SourceId;
  readonly path: string;
  readonly isGone: boolean;
}

/** What an item counts for in any list, and where it stands where nothing else decides. */
export interface ItemAmount {
  readonly seconds: number;
  readonly bytes: number;
  readonly own: OwnOrder;
}
export type AmountOf = (id: ItemId) => ItemAmount | null;

/** One list as it is kept. */
export interface Live {
  readonly list: PlayList;
  has(id: ItemId): boolean;
  digest(): ListDigest;
  listed(): ListedItems;
}

/** Sums are the same whatever order they were made in. */
export const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

export const NONE: ReadonlySet<ItemId> = new Set();
