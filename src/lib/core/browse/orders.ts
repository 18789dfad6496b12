import type { LaidItem } from './groups';
import { Ordering, type ColumnSorting, type OrderValue, type Sorting } from './order';
import { sortSteps } from './sort-steps';

/** Entries per step of sorting, where each is compared several times. */
const AT_ONCE = 1000;

/** All entries in one ascending order. Changes are collected and applied when the order is next needed. */
class Order {
  entries: LaidItem[] | null = null;
  /** Counts changes while there are no entries. If it differs after sorting, the sorted list is out of date. */
  private missed = 0;
  /** The same order descending, and the list that it was made from. */
  turned: { readonly of: readonly LaidItem[]; readonly entries: readonly LaidItem[] } | null = null;
  private leaving = new Set<LaidItem>();
  private coming = new Set<LaidItem>();

  constructor(readonly ordering: Ordering) {}

  note(leaving: LaidItem | null, coming: LaidItem | null): void {
    if (this.entries === null) {
      this.missed++;
      return;
    }
    // An entry that came and went in the meantime was never inserted.
    if (leaving && !this.coming.delete(leaving)) this.leaving.add(leaving);
    if (coming) this.coming.add(coming);
  }

  forget(): void {
    this.entries = null;
    this.missed++;
    this.leaving.clear();
    this.coming.clear();
  }

  /** The entries in order. @param all every entry at the time of the call, in any order */
  *bring(all: readonly LaidItem[]): Generator<void, readonly LaidItem[]> {
    if (this.entries === null) {
      const { missed } = this;
      const entries = [...all];
      yield* sortSteps(entries, this.ordering.compare, AT_ONCE);
      if (this.missed !== missed) return entries;
      this.entries = entries;
    } else if (this.leaving.size + this.coming.size > 0) {
      const coming = [...this.coming].sort(this.ordering.compare);
      this.entries = exchanged(this.entries, this.leaving, coming, this.ordering.compare);
      this.leaving = new Set();
      this.coming = new Set();
    }
    return this.entries;
  }
}

/** Every order that was used, kept up to date as entries come and go, so that nothing is sorted twice. */
export class Orders {
  private readonly orders = new Map<string, Order>();

  /** The comparison of a sorting, regardless of its direction. */
  orderingOf(sorting: ColumnSorting): Ordering {
    return this.orderOf(sorting).ordering;
  }

  /** Whether this order was made before. */
  has(sorting: ColumnSorting): boolean {
    return this.orderOf(sorting).entries !== null;
  }

  /** The entries in order. @param all every entry, in any order */
  *sorted(all: readonly LaidItem[], sorting: Sorting): Generator<void, readonly LaidItem[]> {
    const order = this.orderOf(sorting);
    const upwards = yield* order.bring(all);
    if (sorting.by === null || !sorting.down) return upwards;
    if (order.turned?.of !== upwards)
      order.turned = { of: upwards, entries: yield* downwards(upwards, order.ordering) };
    return order.turned.entries;
  }

  note(leaving: LaidItem | null, coming: LaidItem | null): void {
    for (const order of this.orders.values()) order.note(leaving, coming);
  }

  /** Most entries were replaced: every order is made again when it is next needed. */
  forget(): void {
    for (const order of this.orders.values()) order.forget();
  }

  private orderOf({ by, withoutArticles }: ColumnSorting): Order {
    const key = `${by ?? ''} ${withoutArticles}`;
    let order = this.orders.get(key);
    if (!order) this.orders.set(key, (order = new Order(new Ordering({ by, withoutArticles }))));
    return order;
  }
}

/** The order reversed: equal entries keep their order, and empty values stay last. */
function* downwards(upwards: readonly LaidItem[], ordering: Ordering): Generator<void, readonly LaidItem[]> {
  const runs: number[] = [];
  let before: OrderValue | undefined;
  for (let at = 0; at < upwards.length; at++) {
    const value = ordering.valueOf((upwards[at] as LaidItem).item);
    if (value !== before) runs.push(at);
    before = value;
    if (at % AT_ONCE === 0) yield;
  }
  // Only the last run can be of empty values.
  const last = before === null ? runs.pop() : undefined;
  let end = last ?? upwards.length;
  const next: LaidItem[] = [];
  for (let run = runs.length - 1; run >= 0; run--) {
    const from = runs[run] as number;
    for (let at = from; at < end; at++) next.push(upwards[at] as LaidItem);
    end = from;
  }
  for (let at = last ?? upwards.length; at < upwards.length; at++) next.push(upwards[at] as LaidItem);
  return next;
}

/** Up to this many entries are inserted and removed one by one; for more, one pass over the list is faster. */
const FEW = 8;

/** A sorted list without some of its rows and with others. @param coming in the same order */
export function exchanged<R>(
  list: readonly R[],
  leaving: ReadonlySet<R>,
  coming: readonly R[],
  compare: (a: R, b: R) => number,
): R[] {
  if (leaving.size + coming.length <= FEW) {
    const next = list.slice();
    for (const row of leaving) {
      const at = placeIn(next, row, 0, compare);
      if (next[at] === row) next.splice(at, 1);
    }
    for (const row of coming) next.splice(placeIn(next, row, 0, compare), 0, row);
    return next;
  }
  const rest = leaving.size === 0 ? list : list.filter((row) => !leaving.has(row));
  const next: R[] = [];
  let at = 0;
  for (const row of coming) {
    const place = placeIn(rest, row, at, compare);
    while (at < place) next.push(rest[at++] as R);
    next.push(row);
  }
  while (at < rest.length) next.push(rest[at++] as R);
  return next;
}

/** The place of a row in a sorted list, or the place where it belongs. @param from where the search begins */
function placeIn<R>(rows: readonly R[], row: R, from: number, compare: (a: R, b: R) => number): number {
  let [low, high] = [from, rows.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (compare(rows[middle] as R, row) < 0) low = middle + 1;
    else high = middle;
  }
  return low;
}
