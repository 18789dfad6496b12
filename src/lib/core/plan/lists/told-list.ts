import type { ItemId } from '../../items';
import type { ListEntry, ListId } from '../../lists';
import type { HeldBy } from '../entry';
import type { ListFiles, ListState } from './list-files';

/**
 * Why an entry is not in the file of its list: the player is not to have it, by its selection or by choice; it waits for a
 * twin, for room or for what a finding says; the player has no place for its kind; nothing in the library is it; the list
 * is as long as the player takes one; or its name cannot be written in the list's encoding.
 */
export type LeftOutWhy = 'unselected' | 'leftOut' | HeldBy | 'noPlace' | 'open' | 'tooMany' | 'letters';

/** What a list comes to on a player. */
export interface ToldList {
  readonly id: ListId;
  readonly name: string;
  readonly state: ListState;
  /** Where its file goes; empty for a player that has no lists. */
  readonly path: string;
  readonly count: number;
  /** Entries that its file names. */
  readonly written: number;
  readonly leftOut: readonly {
    readonly why: LeftOutWhy;
    readonly count: number;
    /** The first of them that are items. */
    readonly items: readonly ItemId[];
  }[];
}

/** Items that are told of those that are left out for one reason. */
const MOST_ITEMS = 1000;

/** @param whyOut why an item does not go to the player; null where it does */
export function toldLists(
  lists: ListFiles,
  whyOut: (item: ItemId) => LeftOutWhy | null,
): readonly ToldList[] {
  return lists.all().map(({ list: { id, name, entries }, path, state, written }) => {
    const out = new Map<LeftOutWhy, { count: number; items: ItemId[] }>();
    let last = -1;
    for (const index of written) last = Math.max(last, index);
    entries.forEach((entry, index) => {
      if (written.has(index)) return;
      const why = whyOf(entry, whyOut, index > last);
      const own = out.get(why) ?? { count: 0, items: [] };
      own.count++;
      if ('item' in entry && own.items.length < MOST_ITEMS) own.items.push(entry.item);
      out.set(why, own);
    });
    const leftOut = Array.from(out, ([why, own]) => ({ why, ...own }));
    return { id, name, state, path, count: entries.length, written: written.size, leftOut };
  });
}

function whyOf(entry: ListEntry, whyOut: (item: ItemId) => LeftOutWhy | null, isBehind: boolean): LeftOutWhy {
  if ('open' in entry) return 'open';
  return whyOut(entry.item) ?? (isBehind ? 'tooMany' : 'letters');
}
