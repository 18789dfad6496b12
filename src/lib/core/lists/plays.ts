import type { ItemId } from '../items';
import type { ListId } from './list';

/** How often an item was played to its end. */
export interface Play {
  readonly item: ItemId;
  readonly count: number;
  /** The last time, in milliseconds since 1970. */
  readonly at: number;
}

/** The items of a list that were played to the end since its marks were cleared. */
export interface ListMarks {
  readonly list: ListId;
  readonly items: readonly ItemId[];
}

/** An item that was played once more. */
export const playedAgain = (before: Play | null, item: ItemId, at: number): Play => ({
  item,
  count: (before?.count ?? 0) + 1,
  at,
});

/** Marks with more items; the same object if they are already marked. */
export function marked(marks: ListMarks, items: readonly ItemId[]): ListMarks {
  const known = new Set(marks.items);
  const fresh = items.filter((item) => !known.has(item));
  return fresh.length === 0 ? marks : { ...marks, items: [...marks.items, ...fresh] };
}

/** Marks without some items; null if none are left. */
export function unmarked(marks: ListMarks, items: ReadonlySet<ItemId>): ListMarks | null {
  const left = marks.items.filter((item) => !items.has(item));
  return left.length === 0 ? null : { ...marks, items: left };
}

/** The same in a chance order (Fisher and Yates). @param random from 0 to less than 1 */
export function shuffled<T>(all: readonly T[], random: () => number): readonly T[] {
  const next = [...all];
  for (let end = next.length - 1; end > 0; end--) {
    const at = Math.floor(random() * (end + 1));
    [next[end], next[at]] = [next[at] as T, next[end] as T];
  }
  return next;
}
