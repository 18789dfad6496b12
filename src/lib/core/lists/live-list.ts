import type { OwnOrder } from '../browse';
import type { ItemId, SourceId } from '../items';
import type { RuleProblem } from './holding';
import type { ListId, PlayList } from './list';

/** A summary of a list. */
export interface ListDigest {
  readonly id: ListId;
  /** Entries that are in it, open ones included. */
  readonly count: number;
  readonly seconds: number;
  readonly bytes: number;
  /** Entries that are not items of the library. */
  readonly open: number;
  /** Items that its rule finds beyond its limit. */
  readonly beyond: number;
  /** How much of its limit is used: items, seconds or bytes. Null without a limit. */
  readonly cap: { readonly used: number; readonly most: number } | null;
  readonly problem: RuleProblem | null;
}

/** The items of a list in order, and those that its rule matches beyond its limit. */
export interface ListedItems {
  readonly items: readonly ItemId[];
  readonly beyond: readonly ItemId[];
}

/** What lists need of an item in addition to queries. */
export interface Listable {
  readonly id: ItemId;
  readonly source: SourceId;
  readonly path: string;
  readonly isGone: boolean;
}

/** An item's amounts for limits, and its default position. */
export interface ItemAmount {
  readonly seconds: number;
  readonly bytes: number;
  readonly own: OwnOrder;
}
export type AmountOf = (id: ItemId) => ItemAmount | null;

/** One list that is kept up to date. */
export interface Live {
  readonly list: PlayList;
  has(id: ItemId): boolean;
  digest(): ListDigest;
  listed(): ListedItems;
}

/** Sums are the same whatever order they were made in. */
export const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

export const NONE: ReadonlySet<ItemId> = new Set();
