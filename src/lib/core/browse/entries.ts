import { fieldsOf, type Item, type ItemId } from '../items';
import { fullnessOf, type Fullness } from './fullness';
import type { GroupName } from './group-names';
import { ownOrderOf, type Ordering, type OrderKey, type OwnOrder } from './order';
import { haystack, type ItemRow } from './rows';
import { countedOf, type Counted, type GapsOf } from './tally';

const NOWHERE: readonly never[] = [];

/** A group as far as rows of it are told from each other. */
interface Leaf {
  readonly key: string;
}

/**
 * The row of an item, with everything that narrowing, grouping, sorting and counting ask of it again and again: worked
 * out when it is first asked for, or before, while nobody waits. An edited item gets a new one.
 */
export class ItemEntry<G extends Leaf = Leaf> implements ItemRow {
  readonly type = 'item';
  readonly key: ItemId;
  /** The innermost groups that it is shown in; none while it is out of scope. */
  leaves: readonly G[] = NOWHERE;
  /** Its rows in all of these but the first. */
  others: readonly OtherRow<G>[] = [];
  private text: string | null = null;
  /** By the place of a level in `LEVELS`. */
  readonly names: (readonly GroupName[] | undefined)[] = [];
  private own: OwnOrder | null = null;
  private tallied: Counted | null = null;
  private full: Fullness | null = null;
  /** Its key in the ordering that asked last. */
  private sortedBy: Ordering | null = null;
  private sortKey: OrderKey = null;

  constructor(readonly item: Item) {
    this.key = item.id;
  }

  /** All that is searched of it. */
  get haystack(): string {
    return (this.text ??= haystack(this.item));
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

  /** What counts as a gap is another matter now. */
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

  /** Stands in these groups from now on, in each with a row of its own. */
  standIn(leaves: readonly G[]): void {
    this.leaves = leaves;
    const { item, key } = this;
    this.others =
      leaves.length < 2 ? [] : leaves.slice(1).map((leaf) => new OtherRow(`${key}\n${leaf.key}`, item, this));
  }

  leave(): void {
    this.leaves = NOWHERE;
  }

  /** Its row in the group that stands at this place among its own. */
  rowAt(place: number): StandingRow<G> {
    return place === 0 ? this : (this.others[place - 1] as OtherRow<G>);
  }

  get entry(): ItemEntry<G> {
    return this;
  }
}

/** The row of an item in a second group. */
class OtherRow<G extends Leaf> implements ItemRow {
  readonly type = 'item';

  constructor(
    readonly key: string,
    readonly item: Item,
    readonly entry: ItemEntry<G>,
  ) {}
}

/** A row that can be put in order. */
export type StandingRow<G extends Leaf> = ItemRow & { readonly entry: ItemEntry<G> };
