import { searchText, wordsOf, type ItemId } from '../items';
import type { Kind } from '../kinds';
import type { PlanItem } from './plan-item';

/** Which items a player is to have, of those that it takes. */
export interface Selection {
  /** Null for all kinds. */
  readonly kinds: readonly Kind[] | null;
  /** Words that are all to be found in an item; empty for no such condition. */
  readonly text: string;
  /** Single items that it is to have whatever else is said. Those that it is not to have are left out by choice. */
  readonly with: readonly ItemId[];
  /** Kinds that come first where room runs out, the most important one first; others come after them. */
  readonly order: readonly Kind[];
}

export const SELECT_ALL: Selection = { kinds: null, text: '', with: [], order: [] };

/** Tells whether an item is selected. */
export function selectionTest({ kinds, text, with: single }: Selection): (item: PlanItem) => boolean {
  const words = wordsOf(text);
  const own = new Set(single);
  const wanted = kinds && new Set(kinds);
  if (!wanted && words.length === 0) return () => true;
  return (item) => {
    if (own.has(item.id)) return true;
    // A kind that is open is asked about, whatever the player is to have.
    if (wanted && item.kind !== null && !wanted.has(item.kind)) return false;
    const found = words.length === 0 ? '' : searchText(item.fields, item.path);
    return words.every((word) => found.includes(word));
  };
}
