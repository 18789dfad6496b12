import type { ItemId } from '../items';
import type { ListId } from '../lists';

/** What a file on a player belongs to: an item (its copy or its sidecar), a folder whose picture it is, or a list. */
export type Owner =
  | { readonly type: 'item'; readonly item: ItemId }
  | { readonly type: 'shelf' | 'topFolder'; readonly folder: string }
  | { readonly type: 'list'; readonly list: ListId };

export const ofItem = (item: ItemId): Owner => ({ type: 'item', item });

/** Whether a file is the picture of a folder, which several items share. */
export const isOfFolder = (owner: Owner | null | undefined): boolean =>
  owner?.type === 'shelf' || owner?.type === 'topFolder';

/** The item that a file belongs to; null for shared files and for files of unknown origin. */
export const itemOf = (owner: Owner | null | undefined): ItemId | null =>
  owner?.type === 'item' ? owner.item : null;

export const isSameOwner = (a: Owner | null, b: Owner | null): boolean =>
  a === b || (a !== null && b !== null && JSON.stringify(a) === JSON.stringify(b));

/**
 * Groups files on a player that can take each other's place, as when a folder is renamed: the files of one item, of one
 * list, and equal pictures. Null for a file without an owner.
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
