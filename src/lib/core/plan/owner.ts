import type { ItemId } from '../items';
import type { ListId } from '../lists';

/**
 * Who a file on a player belongs to: an item, whose copy or sidecar it is; or what shows several items together and has a
 * picture of its own there, told by the folder that the picture lies in; or a list. Whatever is told of a file goes by its
 * owner.
 */
export type Owner =
  | { readonly type: 'item'; readonly item: ItemId }
  | { readonly type: 'shelf' | 'topFolder'; readonly folder: string }
  | { readonly type: 'list'; readonly list: ListId };

export const ofItem = (item: ItemId): Owner => ({ type: 'item', item });

/** Whether a file is the picture of what shows several items together. */
export const isOfFolder = (owner: Owner | null | undefined): boolean =>
  owner?.type === 'shelf' || owner?.type === 'topFolder';

/** The item that a file belongs to alone; null for what several share, and for what nobody is known of. */
export const itemOf = (owner: Owner | null | undefined): ItemId | null =>
  owner?.type === 'item' ? owner.item : null;

export const isSameOwner = (a: Owner | null, b: Owner | null): boolean =>
  a === b || (a !== null && b !== null && JSON.stringify(a) === JSON.stringify(b));

/**
 * What can come to be each other on a player, as where a folder is renamed: files of one item, those of one list, and
 * pictures that are the same. Null for what nobody owns.
 */
export function groupOf({
  owner,
  signature,
}: {
  readonly owner: Owner | null;
  readonly signature: string;
}): string | null {
  switch (owner?.type) {
    case undefined:
      return null;
    case 'item':
      return owner.item;
    case 'list':
      return `list ${owner.list}`;
    default:
      return `picture ${signature}`;
  }
}
