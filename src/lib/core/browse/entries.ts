import { fieldsOf, type Item, type ItemId } from '../items';
import { fullnessOf, type Fullness } from './fullness';
import type { GroupName } from './group-names';
import { ownOrderOf, type Ordering, type OrderKey, type OwnOrder } from './order';
import { haystack, type ItemRow } from './rows';
import { countedOf, type Counted, type GapsOf } from './tally';

const NOWHERE: readonly never[] = [];

/** What an entry needs to know of a group. */
interface Leaf {
  readonly key: string;
}

/**
 * The row of an item, with everything that searching, grouping, sorting and counting need again and again. Values are
 * computed when first needed, or earlier by `LiveRows.prepare`. An edited item gets a new entry.
 */
export class ItemEntry<G extends Leaf = Leaf> implements ItemRow {
  readonly type = 'item';
  readonly key: ItemId;
  /** The innermost groups that show it; none while it is out of scope. */
  leaves: readonly G[] = NOWHERE;
  /** Its rows in all of these groups except the first. */
  others: readonly OtherRow<G>[] = [];
  /** By the place of a level in `LEVELS`. */
  readonly names: (readonly GroupName[] | undefined)[] = [];
  private own: OwnOrder | null = null;
  private tallied: Counted | null = null;
  private full: Fullness | null = null;
  /** Its sort key in the order that was used last. */
  private sortedBy: Ordering | null = null;
  private sortKey: OrderKey = null;

  constructor(readonly item: Item) {
    this.key = item.id;
  }

  /** The text that queries search, which is remembered with the item. */
  get haystack(): string {
    return haystack(this.item);
  }

  get ownOrder(): OwnOrder {
    return (this.own ??= ownOrderOf({ fields: fieldsOf(this.item), path: this.item.path }));
  }

  get fullness(): Fullness {
    return (this.full ??= fullnessOf(this.item));
  }

  counted(gapsOf: GapsOf): Counted {
    return (this.tallied ??= countedOf(this.item, gapsOf));
  }

  /** Forgets its counts, because what counts as a gap has changed. */
  uncount(): void {
    this.tallied = null;
  }

  keyIn(ordering: Ordering): OrderKey {
    if (this.sortedBy !== ordering) {
      this.sortKey = ordering.keyOf(this.item);
      this.sortedBy = ordering;
    }
    return this.sortKey;
  }

  /** Sets the groups that show it, each with a row of its own. */
  standIn(leaves: readonly G[]): void {
    this.leaves = leaves;
    const { item, key } = this;
    this.others =
      leaves.length < 2 ? [] : leaves.slice(1).map((leaf) => new OtherRow(`${key}\n${leaf.key}`, item, this));
  }

  leave(): void {
    this.leaves = NOWHERE;
  }

  /** Its row in the group at this place of `leaves`. */
  rowAt(place: number): StandingRow<G> {
    return place === 0 ? this : (this.others[place - 1] as OtherRow<G>);
  }

  get entry(): ItemEntry<G> {
    return this;
  }
}

/** A further row of an item, in another group. */
class OtherRow<G extends Leaf> implements ItemRow {
  readonly type = 'item';

  constructor(
    readonly key: string,
    readonly item: Item,
    readonly entry: ItemEntry<G>,
  ) {}
}

/** A row with its entry, which holds the sort keys. */
export type StandingRow<G extends Leaf> = ItemRow & { readonly entry: ItemEntry<G> };
