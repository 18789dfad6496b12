import type { ItemId } from '../../items';
import { entryKey, numbered, type ListEntry, type PlayerList } from '../../lists';

/** The items of some lists, each once. */
export function itemsOfLists(lists: Iterable<PlayerList>): ReadonlySet<ItemId> {
  const items = new Set<ItemId>();
  for (const { entries } of lists) for (const entry of entries) if ('item' in entry) items.add(entry.item);
  return items;
}

/** Whether two lists are alike, and a file of one is a file of the other. */
export function isAlike(a: PlayerList, b: PlayerList): boolean {
  if (a.name !== b.name || a.group !== b.group || a.type !== b.type) return false;
  if (a.entries === b.entries) return true;
  return (
    a.entries.length === b.entries.length &&
    a.entries.every((entry, index) => entryKey(entry) === entryKey(b.entries[index] as ListEntry))
  );
}

/** What the entries of a list are told by, each of several equal ones apart. */
export const keysOf = (entries: readonly ListEntry[]): readonly string[] => numbered(entries.map(entryKey));

/** Where items stand in the first of some lists that has them, from 1 on, in as many digits as its last place has. */
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
