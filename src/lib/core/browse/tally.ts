import { kindOf, waits, type Item } from '../items';
import type { Kind } from '../kinds';
import type { ItemChange } from './live-rows';

export interface TallyCounts {
  readonly kinds: ReadonlyMap<Kind | 'open', number>;
  /** Items whose kind the curator has yet to confirm. */
  readonly waiting: number;
  /** Fields that the player asks for and that are empty. */
  readonly gaps: number;
}

/** Counts over all items, kept as they change: an edit of one never counts the others. */
export class Tally {
  private readonly kinds = new Map<Kind | 'open', number>();
  private waiting = 0;
  private gaps = 0;

  /** @param gapsOf what an item lacks of what its player asks for */
  constructor(private readonly gapsOf: (item: Item) => number) {}

  change(changes: readonly ItemChange[]): void {
    for (const { before, after } of changes) {
      if (before) this.add(before, -1);
      if (after) this.add(after, 1);
    }
  }

  /** The counts as they stand, which do not change any more. */
  counts(): TallyCounts {
    return { kinds: new Map(this.kinds), waiting: this.waiting, gaps: this.gaps };
  }

  private add(item: Item, by: 1 | -1): void {
    const kind = kindOf(item) ?? 'open';
    const count = (this.kinds.get(kind) ?? 0) + by;
    if (count === 0) this.kinds.delete(kind);
    else this.kinds.set(kind, count);
    if (waits(item)) this.waiting += by;
    this.gaps += by * this.gapsOf(item);
  }
}
