import type { ItemId } from '../items';
import { testOf, type Asked, type Asking, type QueryWorld } from '../query';
import type { ReadRule } from './holding';
import type { ListLimit } from './list';
import {
  NONE,
  rounded,
  type ItemAmount,
  type AmountOf,
  type ListDigest,
  type Listable,
  type ListedItems,
  type Live,
} from './live-list';
import { ListOrdering, type OrderKeys } from './order';

/** Why an item is in a rule list, or is not. */
export type WhyListed =
  | { readonly type: 'in' | 'dropped' | 'wrong' | 'gone' }
  /** It meets the rule, and others come before it until the limit is reached. */
  | { readonly type: 'beyond'; readonly place: number }
  | { readonly type: 'unmet' };

/** Up to this many members are moved one by one; each shifts those after it. */
const FEW = 32;
/** The most items beyond a limit that are reported, to show what would come next. */
const MOST_BEYOND = 200;

/** An item that matches a rule, with its amounts. Kept small, because there is one per item and list. */
interface Member extends OrderKeys {
  readonly amount: ItemAmount;
}

/** A rule list, kept in order as items change. */
export class LiveRule<T extends Listable> implements Live {
  private readonly members = new Map<ItemId, Member>();
  private ordered: Member[] = [];
  private readonly total = { seconds: 0, bytes: 0 };
  private readonly dropped: ReadonlySet<ItemId>;
  private readonly ordering: ListOrdering;
  private readonly cap: Cap | null;
  private readonly meets: (item: T) => boolean;
  /** Number of members within the limit and their total; null after a change. */
  private cut: ReturnType<typeof cutAt> | null = null;
  private inside: ReadonlySet<ItemId> | null = null;

  constructor(
    readonly rule: ReadRule,
    private readonly asking: Asking<T>,
    private readonly world: QueryWorld,
    private readonly amountOf: AmountOf,
    free: FreeOn,
  ) {
    this.cap = capOf(rule.list.limit, free, world);
    this.dropped = new Set(rule.list.dropped);
    this.ordering = new ListOrdering(rule.list.order);
    this.meets = testOf(rule.query, asking, world);
  }

  get list() {
    return this.rule.list;
  }

  /** Adds an item if it matches the rule. Members are sorted at the end. */
  gather(item: T): void {
    const member = this.memberOf(item);
    if (!member) return;
    this.members.set(item.id, member);
    this.count(member, 1);
  }

  /** Discards the members, to start again. */
  empty(): void {
    this.members.clear();
    this.total.seconds = this.total.bytes = 0;
  }

  settle(): void {
    this.ordered = [...this.members.values()].sort(this.ordering.compare);
    this.cut = null;
    this.inside = null;
  }

  /** @returns items that entered or left the list, if another rule needs them */
  change(
    touched: ReadonlySet<ItemId>,
    items: ReadonlyMap<ItemId, T>,
    isNeeded: boolean,
  ): ReadonlySet<ItemId> {
    const isLimited = this.cap !== null;
    // Items beyond the limit move up, so the whole list is compared with what it was.
    const was = isNeeded && isLimited ? this.within() : NONE;
    const moved = new Set<ItemId>();
    const gone = new Set<Member>();
    const come: Member[] = [];
    for (const id of touched) {
      const before = this.members.get(id);
      const item = items.get(id);
      const after = item && this.memberOf(item);
      if (before) {
        gone.add(before);
        this.members.delete(id);
        this.count(before, -1);
      }
      if (after) {
        come.push(after);
        this.members.set(id, after);
        this.count(after, 1);
      }
      if (!before !== !after) moved.add(id);
    }
    if (gone.size + come.length === 0) return NONE;
    this.reorder(gone, come);
    this.cut = null;
    this.inside = null;
    if (!isNeeded || !isLimited) return moved;
    const is = this.within();
    return new Set([...was].filter((id) => !is.has(id)).concat([...is].filter((id) => !was.has(id))));
  }

  /** Few members are removed and inserted one by one; many are merged in one pass. */
  private reorder(gone: ReadonlySet<Member>, come: Member[]): void {
    const { compare } = this.ordering;
    if (gone.size + come.length <= FEW) {
      for (const member of gone) this.ordered.splice(this.placeOf(member), 1);
      for (const member of come) this.ordered.splice(this.placeOf(member), 0, member);
      return;
    }
    come.sort(compare);
    const merged: Member[] = [];
    let at = 0;
    for (const member of this.ordered) {
      if (gone.has(member)) continue;
      for (let next = come[at]; next && compare(next, member) < 0; next = come[++at]) merged.push(next);
      merged.push(member);
    }
    while (at < come.length) merged.push(come[at++] as Member);
    this.ordered = merged;
  }

  has(id: ItemId): boolean {
    return this.cap === null ? this.members.has(id) : this.within().has(id);
  }

  digest(): ListDigest {
    const { count, seconds, bytes, used } = this.cutNow();
    const beyond = this.ordered.length - count;
    return {
      id: this.list.id,
      count,
      seconds: rounded(seconds),
      bytes,
      open: 0,
      beyond,
      cap: this.cap && { used: rounded(used), most: this.cap.most },
      problem: this.rule.problem,
    };
  }

  listed(): ListedItems {
    const { count } = this.cutNow();
    const ids = (from: number, to: number) => this.ordered.slice(from, to).map(({ id }) => id);
    return { items: ids(0, count), beyond: ids(count, count + MOST_BEYOND) };
  }

  why(item: T): WhyListed {
    if (this.rule.problem) return { type: 'wrong' };
    if (item.isGone) return { type: 'gone' };
    if (this.dropped.has(item.id)) return { type: 'dropped' };
    const member = this.members.get(item.id);
    if (!member) return { type: 'unmet' };
    const place = this.placeOf(member);
    return place < this.cutNow().count ? { type: 'in' } : { type: 'beyond', place };
  }

  private memberOf(item: T): Member | null {
    if (item.isGone || this.dropped.has(item.id) || !this.meets(item)) return null;
    const asked: Asked = this.asking.asked(item);
    const amount = this.amountOf(item.id);
    if (!amount) return null;
    const { id, path, values, own } = this.ordering.keysOf(asked, this.world, amount.own);
    return { id, path, values, own, amount };
  }

  private count({ amount: { seconds, bytes } }: Member, by: 1 | -1): void {
    this.total.seconds += seconds * by;
    this.total.bytes += bytes * by;
  }

  /** The position of a member, or the position where it belongs. */
  private placeOf(member: Member): number {
    let low = 0;
    let high = this.ordered.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.ordering.compare(this.ordered[middle] as Member, member) < 0) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private cutNow() {
    this.cut ??= this.cap
      ? cutAt(this.ordered, this.cap)
      : { count: this.ordered.length, ...this.total, used: 0 };
    return this.cut;
  }

  private within(): ReadonlySet<ItemId> {
    this.inside ??= new Set(this.ordered.slice(0, this.cutNow().count).map(({ id }) => id));
    return this.inside;
  }
}

/** What is free on players, by their ids. */
export type FreeOn = ReadonlyMap<string, { readonly name: string; readonly bytes: number }>;

/** The limit of a list, and the amount of each member. */
interface Cap {
  readonly most: number;
  readonly counts: (member: Member) => number;
}

function capOf(limit: ListLimit | null, free: FreeOn, { playersOf }: QueryWorld): Cap | null {
  switch (limit?.by) {
    case undefined:
      return null;
    case 'items':
      return { most: limit.most, counts: () => 1 };
    case 'seconds':
      return { most: limit.most, counts: ({ amount }) => amount.seconds };
    case 'bytes':
      return { most: limit.most, counts: ({ amount }) => amount.bytes };
    case 'free': {
      const own = free.get(limit.player);
      // Items already on the player do not count against free space.
      const counts = ({ id, amount }: Member) => (own && playersOf(id).includes(own.name) ? 0 : amount.bytes);
      return own ? { most: own.bytes, counts } : null;
    }
  }
}

function cutAt(ordered: readonly Member[], { most, counts }: Cap) {
  const sum = { count: 0, seconds: 0, bytes: 0, used: 0 };
  for (const member of ordered) {
    const { seconds, bytes } = member.amount;
    const next = sum.used + counts(member);
    if (next > most) break;
    sum.used = next;
    sum.count++;
    sum.seconds += seconds;
    sum.bytes += bytes;
  }
  return sum;
}
