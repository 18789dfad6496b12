import type { ItemId, SourceId } from '../items';
import type { ColumnKey } from '../browse';

export type ListId = string & { readonly __brand: 'ListId' };

/** What every playlist has. */
interface Named {
  readonly id: ListId;
  readonly name: string;
  readonly note: string;
  /** The group that it is in; null for none. */
  readonly group: string | null;
}

/** Where an entry can be fetched from to become an item. */
export type FetchFrom =
  | { readonly type: 'shelf'; readonly address: string; readonly track: string }
  | { readonly type: 'feed'; readonly feed: string; readonly episode: string };

/** What a list file says of an entry that is not in the library, or of one that can be fetched. */
export interface OpenSaid {
  /** As the file has it: a path, an address. */
  readonly path: string;
  readonly title: string | null;
  readonly artist: string | null;
  readonly seconds: number | null;
  /** Absent if it cannot be fetched. */
  readonly from?: FetchFrom;
}

/** An item of the library, or an entry that none was found for. */
export type ListEntry = { readonly item: ItemId } | { readonly open: OpenSaid };

/** Entries that are added, moved, played and removed as one. A single entry is a suite of one. */
export interface Suite {
  readonly name: string | null;
  readonly entries: readonly ListEntry[];
}

/** A playlist put together by hand. */
export interface HandList extends Named {
  readonly type: 'hand';
  readonly suites: readonly Suite[];
  /** Whether an item may be in it more than once. */
  readonly allowsDoubles: boolean;
}

/** Sort keys of rule lists other than columns. */
export const WORLD_ORDERS = ['added', 'changed', 'played', 'last played'] as const;
export type ListOrderKey = ColumnKey | (typeof WORLD_ORDERS)[number];

/** One key of a sort order; empty values come last in both directions. */
export interface OrderTerm {
  readonly by: ListOrderKey;
  readonly down: boolean;
}

/** In the order of fields, the first of which leads; or shuffled, always the same way by one seed. */
export type ListOrder =
  | { readonly type: 'terms'; readonly terms: readonly OrderTerm[] }
  | { readonly type: 'shuffled'; readonly seed: number };

export const LIMITED_BY = ['items', 'seconds', 'bytes'] as const;

/** The limit of a list. The first item that would exceed it, and all after it, are left out. */
export type ListLimit =
  | { readonly by: (typeof LIMITED_BY)[number]; readonly most: number }
  /** The bytes that are free on a player, not counting items that are already there. */
  | { readonly by: 'free'; readonly player: string };

/** A playlist that fills itself by a query. */
export interface RuleList extends Named {
  readonly type: 'rule';
  readonly query: string;
  readonly order: ListOrder;
  readonly limit: ListLimit | null;
  /** Items excluded by hand, whatever the query says. */
  readonly dropped: readonly ItemId[];
}

/** A playlist tied to a folder: what lands in the folder lands in the list. */
export interface MirrorList extends Named {
  readonly type: 'mirror';
  readonly source: SourceId;
  /** Path below the source's root; empty for the root itself. */
  readonly folder: string;
  /** Whether it includes the folders below. */
  readonly isDeep: boolean;
}

export type PlayList = HandList | RuleList | MirrorList;

/** A list of a player, with its current content. */
export interface PlayerList extends Pick<Named, 'id' | 'name' | 'group'> {
  readonly type: PlayList['type'];
  readonly entries: readonly ListEntry[];
  /** Whether an item may be in it more than once. */
  readonly allowsDoubles: boolean;
}

export const NO_ORDER: ListOrder = { type: 'terms', terms: [] };

/** A list without entries. */
export const newHandList = (id: ListId, name: string): HandList => ({
  id,
  type: 'hand',
  name,
  note: '',
  group: null,
  suites: [],
  allowsDoubles: false,
});

/** A rule that all items meet, in their own order, without a limit. */
export const newRuleList = (id: ListId, name: string): RuleList => ({
  id,
  type: 'rule',
  name,
  note: '',
  group: null,
  query: '',
  order: NO_ORDER,
  limit: null,
  dropped: [],
});
