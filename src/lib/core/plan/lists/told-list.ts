import type { ItemId } from '../../items';
import type { ListEntry, ListId } from '../../lists';
import type { HeldBy } from '../entry';
import type { ListFiles, ListState } from './list-files';

/**
 * Why an entry is missing from the file of its list: the player's selection excludes it or it was left out by choice;
 * it is held back for a twin, for room or by a finding; the player has no place for its kind; it is not in the library;
 * the list has reached the player's limit; or the list's encoding cannot store its name.
 */
export type LeftOutWhy = 'unselected' | 'leftOut' | HeldBy | 'noPlace' | 'open' | 'tooMany' | 'letters';

/** The state of a list on a player. */
export interface ToldList {
  readonly id: ListId;
  readonly name: string;
  readonly state: ListState;
  /** The path of its file; empty for a player without lists. */
  readonly path: string;
  readonly count: number;
  /** Number of entries in its file. */
  readonly written: number;
  readonly leftOut: readonly {
    readonly why: LeftOutWhy;
    readonly count: number;
    /** The first of them that are items. */
    readonly items: readonly ItemId[];
  }[];
}

/** The most items that are shown for one reason of being left out. */
const MOST_ITEMS = 1000;

/** @param whyOut why an item is not copied to the player; null if it is */
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
