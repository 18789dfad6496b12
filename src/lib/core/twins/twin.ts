import type { Facts, FormatId, Item, ItemId, Track } from '../items';
import { recipeKey, type TwinRecipe } from './recipe';

export type TwinId = string & { readonly __brand: 'TwinId' };

/**
 * A file made from an item's, for players that do not take that. It holds pictures and sound alone: what is said of the
 * item is laid into its copies, so that an edit makes none of it anew.
 */
export interface Twin {
  /** Its file's name, too. */
  readonly id: TwinId;
  readonly item: ItemId;
  readonly recipe: TwinRecipe;
  /** What the item's file was when it was made: bytes, and milliseconds since 1970. */
  readonly from: { readonly size: number; readonly modified: number };
  readonly format: FormatId;
  /** Bytes. */
  readonly size: number;
  readonly facts: Facts;
  /** Those of a container that holds several: of each type as many as its original has, in their order. */
  readonly tracks?: readonly Track[];
  /** Its file lies in the folder that the curator keeps twins in, and not with the browser. */
  readonly inFolder?: true;
  /** Milliseconds since 1970. */
  readonly madeAt: number;
}

/** Whether it was made from the file that the item has now. */
export const isFresh = ({ from }: Twin, { size, modified }: Pick<Item, 'size' | 'modified'>): boolean =>
  from.size === size && from.modified === modified;

/** What the bytes of a twin follow from; that it was made again of the same changes nothing. */
export const twinKey = ({ item, from, recipe }: Twin): string =>
  `${item}|${from.size}|${from.modified}|${recipeKey(recipe)}`;
