import type { ItemId } from '../items';
import { entriesOf, itemsIn } from './hand';
import type { HandList, MirrorList, PlayList } from './list';
import {
  NONE,
  rounded,
  type AmountOf,
  type ListDigest,
  type Listable,
  type ListedItems,
  type Live,
} from './live-list';
import { mirrors } from './watched';

/** A list that is not defined by a rule. */
export abstract class Fixed<T extends Listable> implements Live {
  abstract readonly list: PlayList;
  abstract has(id: ItemId): boolean;
  abstract digest(): ListDigest;
  abstract listed(): ListedItems;
  /** Items that are in it now and were not, or the other way round. */
  abstract change(
    before: ReadonlyMap<ItemId, T | undefined>,
    items: ReadonlyMap<ItemId, T>,
  ): ReadonlySet<ItemId>;
}

export class LiveHand<T extends Listable> extends Fixed<T> {
  private readonly own: ReadonlySet<ItemId>;
  private told: ListDigest | null = null;

  constructor(
    readonly list: HandList,
    private readonly items: ReadonlyMap<ItemId, T>,
    private readonly amountOf: AmountOf,
  ) {
    super();
    this.own = itemsIn(list);
  }

  has(id: ItemId): boolean {
    return this.own.has(id) && this.items.has(id);
  }

  change(before: ReadonlyMap<ItemId, T | undefined>): ReadonlySet<ItemId> {
    const moved = new Set<ItemId>();
    for (const [id, item] of before) {
      if (!this.own.has(id)) continue;
      this.told = null;
      if ((item === undefined) === this.items.has(id)) moved.add(id);
    }
    return moved;
  }

  digest(): ListDigest {
    if (this.told) return this.told;
    const sum = { count: 0, open: 0, seconds: 0, bytes: 0 };
    for (const entry of entriesOf(this.list)) {
      sum.count++;
      const amount = 'item' in entry ? this.amountOf(entry.item) : null;
      if (!amount) sum.open++;
      sum.seconds += amount?.seconds ?? ('open' in entry ? (entry.open.seconds ?? 0) : 0);
      sum.bytes += amount?.bytes ?? 0;
    }
    this.told = {
      id: this.list.id,
      ...sum,
      seconds: rounded(sum.seconds),
      beyond: 0,
      cap: null,
      problem: null,
    };
    return this.told;
  }

  listed(): ListedItems {
    return {
      items: entriesOf(this.list).flatMap((entry) => ('item' in entry ? [entry.item] : [])),
      beyond: [],
    };
  }
}

export class LiveMirror<T extends Listable> extends Fixed<T> {
  private readonly own = new Map<ItemId, string>();
  private told: ListDigest | null = null;

  constructor(
    readonly list: MirrorList,
    items: ReadonlyMap<ItemId, T>,
    private readonly amountOf: AmountOf,
  ) {
    super();
    for (const item of items.values()) if (this.holds(item)) this.own.set(item.id, item.path);
  }

  private holds({ source, path, isGone }: Listable): boolean {
    return mirrors(this.list, { source, path, gone: isGone ? 0 : null });
  }

  has(id: ItemId): boolean {
    return this.own.has(id);
  }

  change(before: ReadonlyMap<ItemId, T | undefined>, items: ReadonlyMap<ItemId, T>): ReadonlySet<ItemId> {
    const moved = new Set<ItemId>();
    for (const id of before.keys()) {
      const item = items.get(id);
      const was = this.own.has(id);
      const is = item !== undefined && this.holds(item);
      if (!was && !is) continue;
      this.told = null;
      if (is) this.own.set(id, item.path);
      else this.own.delete(id);
      if (was !== is) moved.add(id);
    }
    return moved.size > 0 ? moved : NONE;
  }

  digest(): ListDigest {
    if (this.told) return this.told;
    const sum = { seconds: 0, bytes: 0 };
    for (const id of this.own.keys()) {
      const amount = this.amountOf(id);
      sum.seconds += amount?.seconds ?? 0;
      sum.bytes += amount?.bytes ?? 0;
    }
    const { seconds, bytes } = sum;
    const own = { count: this.own.size, seconds: rounded(seconds), bytes };
    this.told = { id: this.list.id, ...own, open: 0, beyond: 0, cap: null, problem: null };
    return this.told;
  }

  listed(): ListedItems {
    const items = [...this.own].sort(([, a], [, b]) => (a < b ? -1 : 1)).map(([id]) => id);
    return { items, beyond: [] };
  }
}
