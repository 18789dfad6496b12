import type { Facts, FormatId, Item, ItemId, Track } from '../items';
import { recipeKey, type TwinRecipe } from './recipe';

export type TwinId = string & { readonly __brand: 'TwinId' };

/**
 * A file converted from an item's file for players that do not take that. It holds only video and audio; the item's
 * description is written into its copies, so that an edit does not require another conversion.
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
  /** The tracks of a container with several: of each type as many as the original, in the same order. */
  readonly tracks?: readonly Track[];
  /** Its file is in the folder that the curator chose for twins, not in the browser. */
  readonly inFolder?: true;
  /** Milliseconds since 1970. */
  readonly madeAt: number;
}

/** Whether it was made from the item's present file. */
export const isFresh = ({ from }: Twin, { size, modified }: Pick<Item, 'size' | 'modified'>): boolean =>
  from.size === size && from.modified === modified;

/** Identifies the bytes of a twin; making it again does not change that. */
export const twinKey = ({ item, from, recipe }: Twin): string =>
  `${item}|${from.size}|${from.modified}|${recipeKey(recipe)}`;
