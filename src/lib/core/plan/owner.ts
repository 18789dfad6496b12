import type { ItemId } from '../items';

/**
 * Who a file on a player belongs to: an item, whose copy or sidecar it is; or what shows several items together and has a
 * picture of its own there, told by the folder that the picture lies in. Whatever is told of a file goes by its owner.
 */
export type Owner =
  | { readonly type: 'item'; readonly item: ItemId }
  | { readonly type: 'shelf' | 'topFolder'; readonly folder: string };

export const ofItem = (item: ItemId): Owner => ({ type: 'item', item });

/** The item that a file belongs to alone; null for what several share, and for what nobody is known of. */
export const itemOf = (owner: Owner | null | undefined): ItemId | null =>
  owner?.type === 'item' ? owner.item : null;

export const isSameOwner = (a: Owner | null, b: Owner | null): boolean =>
  a === b || (a !== null && b !== null && JSON.stringify(a) === JSON.stringify(b));

/**
 * What can come to be each other on a player, as where a folder is renamed: files of one item, and pictures that are the
 * same. Null for what nobody owns.
 */
export function groupOf({
  owner,
  signature,
}: {
  readonly owner: Owner | null;
  readonly signature: string;
}): string | null {
  return owner && (owner.type === 'item' ? owner.item : `picture ${signature}`);
}
