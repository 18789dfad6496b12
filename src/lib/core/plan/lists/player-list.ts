import type { ItemId } from '../../items';
import { entryKey, numbered, type ListEntry, type PlayerList } from '../../lists';

/** The items of some lists, each once. */
export function itemsOfLists(lists: Iterable<PlayerList>): ReadonlySet<ItemId> {
  const items = new Set<ItemId>();
  for (const { entries } of lists) for (const entry of entries) if ('item' in entry) items.add(entry.item);
  return items;
}

/** Whether two lists have equal files. */
export function isAlike(a: PlayerList, b: PlayerList): boolean {
  if (a.name !== b.name || a.group !== b.group || a.type !== b.type) return false;
  if (a.entries === b.entries) return true;
  return (
    a.entries.length === b.entries.length &&
    a.entries.every((entry, index) => entryKey(entry) === entryKey(b.entries[index] as ListEntry))
  );
}

/** Keys of the entries of a list; equal entries get different ones. */
export const keysOf = (entries: readonly ListEntry[]): readonly string[] => numbered(entries.map(entryKey));

/**
 * The position of items in the first list that contains them, from 1 on, padded to the number of digits of its last
 * position.
 */
export function ranksIn(lists: readonly PlayerList[], leastDigits: number): ReadonlyMap<ItemId, string> {
  const ranks = new Map<ItemId, string>();
  for (const { entries } of lists) {
    const digits = Math.max(leastDigits, String(entries.length).length);
    entries.forEach((entry, index) => {
      if ('item' in entry && !ranks.has(entry.item))
        ranks.set(entry.item, String(index + 1).padStart(digits, '0'));
    });
  }
  return ranks;
}
