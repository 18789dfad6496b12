import { ownOrderOf, type OwnOrder } from '../browse';
import type { ArrivalId, ItemId, SourceId } from '../items';
import { dayOf, nowhere, remembering, testOf, type Asked, type Asking, type QueryWorld } from '../query';
import { entriesOf, itemsIn } from './hand';
import { readRules, type ReadRule, type RuleProblem } from './holding';
import type { HandList, ListEntry, ListId, ListLimit, MirrorList, PlayList } from './list';
import { ListOrdering, type OrderKeys } from './order';
import type { Play } from './plays';
import { mirrors } from './watched';

/** What lists go by that no item says of itself. What is not told stays what it was. */
export interface ListWishes {
  /** Lists that are new or not what they were, and those that are no more. */
  readonly lists?: readonly PlayList[];
  readonly forgotten?: readonly ListId[];
  /** When arrivals came, in milliseconds since 1970. */
  readonly arrivals?: readonly (readonly [ArrivalId, number])[];
  /** Players by their names, with the items that they have. */
  readonly players?: readonly (readonly [name: string, items: readonly ItemId[]])[];
  /** Bytes that are free on players, by their ids, with their names. What is not told is not limited. */
  readonly free?: readonly (readonly [id: string, name: string, bytes: number])[];
  /** Names of the players that play something as it is. */
  readonly playsOn?: QueryWorld['playsOn'];
  /** What was played since that was told. */
  readonly plays?: readonly Play[];
  /** Items whose plays are forgotten. */
  readonly unplayed?: readonly ItemId[];
  /** Milliseconds since 1970. */
  readonly now: number;
}

/** What a list comes to. */
export interface ListDigest {
  readonly id: ListId;
  /** Entries that are in it, open ones included. */
  readonly count: number;
  readonly seconds: number;
  readonly bytes: number;
  /** Entries that no item of the library stands for. */
  readonly open: number;
  /** Items that its rule finds beyond its limit. */
  readonly beyond: number;
  /** What of its limit is used: items, seconds or bytes. Null where it has none. */
  readonly cap: { readonly used: number; readonly most: number } | null;
  readonly problem: RuleProblem | null;
}

/** The items of a list, in its order, and those that its rule finds beyond its limit. */
export interface ListedItems {
  readonly items: readonly ItemId[];
  readonly beyond: readonly ItemId[];
}

/** What lists ask of an item beside what queries do. */
export interface Listable {
  readonly id: ItemId;
  readonly source: SourceId;
  readonly path: string;
  readonly isGone: boolean;
}

/** Why an item is in a rule list, or is not. */
export type WhyListed =
  | { readonly type: 'in' | 'dropped' | 'wrong' | 'gone' }
  /** It meets the rule, and others come before it until the limit is reached. */
  | { readonly type: 'beyond'; readonly place: number }
  | { readonly type: 'unmet' };

/** Items that are gone through between two looks at the time. */
const PASSED_AT_ONCE = 100;
/** Members that are looked up and moved one by one: each moves what stands behind it. */
const FEW = 32;
/** Items beyond a limit that are told: they show what would come next. */
const MOST_BEYOND = 200;

/** What an item counts for in any list, and where it stands where nothing else decides. */
interface Amount {
  readonly seconds: number;
  readonly bytes: number;
  readonly own: OwnOrder;
}
type AmountOf = (id: ItemId) => Amount | null;

/** One list as it is kept. */
interface Live {
  readonly list: PlayList;
  has(id: ItemId): boolean;
  digest(): ListDigest;
  listed(): ListedItems;
}

/**
 * All lists, kept as items change: an edit touches only those whose answer it can change. A list that is kept is what it
 * would be if it were made anew.
 */
export class LiveLists<T extends Listable> {
  private readonly items = new Map<ItemId, T>();
  private readonly lists = new Map<ListId, Live>();
  private readonly own = new Map<ListId, PlayList>();
  /** Those that others need come before them. */
  private rules: readonly LiveRule<T>[] = [];
  /** Those that are still to be made. */
  private readonly waiting = new Set<LiveRule<T>>();
  private pass: Pass<T> | null = null;
  /** Rule lists that others need. */
  private needed: ReadonlySet<ListId> = new Set();
  private readonly plays = new Map<ItemId, Play>();
  /** What is free on players, by their ids. */
  private free: FreeOn = new Map();
  private world: QueryWorld = nowhere(0);
  private readonly amountOf: AmountOf = (id) => {
    const item = this.items.get(id);
    if (!item) return null;
    let amount = this.amounts.get(item);
    if (!amount) {
      const asked = this.asking.asked(item);
      const { durationSeconds, size } = asked;
      amount = { seconds: durationSeconds ?? 0, bytes: size, own: ownOrderOf(asked) };
      this.amounts.set(item, amount);
    }
    return amount;
  };
  /** One for each item, whatever the number of lists that it is in. */
  private readonly amounts = new WeakMap<T, Amount>();
  private readonly asking: Asking<T>;

  constructor(asking: Asking<T>) {
    this.asking = remembering(asking);
  }

  /**
   * Takes what changed of lists, arrivals and players, and the time.
   * @param budget milliseconds in which rules are made anew; what is not made by then is told once it is
   * @returns whether all of them are
   */
  know(wishes: ListWishes, budget = Infinity): boolean {
    const { lists = [], forgotten = [], arrivals, players, playsOn, free, now } = wishes;
    const played = this.takePlays(wishes);
    if (played.size > 0 || free) this.breakOff();
    if (free) this.free = new Map(free.map(([player, name, bytes]) => [player, { name, bytes }]));
    const isSame = lists.length + forgotten.length === 0 && !arrivals && !players && !playsOn;
    if (isSame && dayOf(now) === dayOf(this.world.now)) {
      if (free) this.limitAnew();
      this.spreadPlays(played);
      return this.work(budget);
    }
    this.breakOff();
    const fresh = new Set<ListId>(forgotten);
    for (const id of forgotten) {
      this.lists.delete(id);
      this.own.delete(id);
    }
    for (const list of lists) {
      fresh.add(list.id);
      this.own.set(list.id, list);
      if (list.type !== 'rule') this.lists.set(list.id, this.fixed(list));
    }
    this.world = this.worldOf(wishes);
    const isStale = (asks: ReadonlySet<string>): boolean =>
      (asks.has('added') && arrivals !== undefined) ||
      (asks.has('player') && players !== undefined) ||
      (asks.has('plays on') && playsOn !== undefined);
    const known = new Map(this.rules.map((rule) => [rule.list.id, rule]));
    this.rules = readRules([...this.own.values()], this.world).map((rule) => {
      const { id } = rule.list;
      const old = known.get(id);
      const stands =
        old !== undefined &&
        !fresh.has(id) &&
        wordsOf(old.rule) === wordsOf(rule) &&
        !isStale(rule.asks) &&
        ![...rule.needs].some((need) => fresh.has(need)) &&
        !(limitOf(rule)?.by === 'free' && (players !== undefined || free !== undefined));
      if (stands) return old;
      fresh.add(id);
      return this.anew(rule);
    });
    this.needed = new Set(this.rules.flatMap(({ rule }) => [...rule.needs]));
    this.spreadPlays(played);
    return this.work(budget);
  }

  /** A rule that is to be made: until it is, nothing is told of its list. */
  private anew(rule: ReadRule): LiveRule<T> {
    const live = new LiveRule(rule, this.asking, this.worldFor(rule), this.amountOf, this.free);
    this.lists.delete(rule.list.id);
    this.waiting.add(live);
    return live;
  }

  /** What is free on players is another matter now: rules that are limited by it are made anew. */
  private limitAnew(): void {
    const stale = new Set<ListId>();
    this.rules = this.rules.map((rule) => {
      const isStale = rule.list.limit?.by === 'free' || [...rule.rule.needs].some((need) => stale.has(need));
      if (!isStale) return rule;
      stale.add(rule.list.id);
      return this.anew(rule.rule);
    });
  }

  /** @returns items that were played more often or less than was known */
  private takePlays({ plays = [], unplayed = [] }: ListWishes): ReadonlySet<ItemId> {
    const touched = new Set<ItemId>(unplayed);
    for (const item of unplayed) this.plays.delete(item);
    for (const play of plays) {
      this.plays.set(play.item, play);
      touched.add(play.item);
    }
    return touched;
  }

  /** Of what was played, only rules that ask for that are another matter. */
  private spreadPlays(touched: ReadonlySet<ItemId>): void {
    if (touched.size > 0)
      this.spread(new Map(), ({ asks }) => (asks.has('played') || asks.has('last played') ? touched : NONE));
  }

  /**
   * Makes rules that wait for it: all at once that need none of the others, in passes over the items, since what is asked of
   * an item is looked up once for all of them.
   * @returns whether none is left
   */
  private work(budget: number): boolean {
    const end = Date.now() + budget;
    for (;;) {
      this.pass ??= this.nextPass();
      if (this.pass === null) break;
      const { rules, items } = this.pass;
      for (let count = 0; ; count++) {
        if (count % PASSED_AT_ONCE === 0 && Date.now() > end) return false;
        const next = items.next();
        if (next.done) break;
        for (const rule of rules) rule.gather(next.value);
      }
      for (const rule of rules) {
        rule.settle();
        this.lists.set(rule.list.id, rule);
        this.waiting.delete(rule);
      }
      this.pass = null;
    }
    // What is left was taken out or replaced before it was made.
    this.waiting.clear();
    return true;
  }

  private nextPass(): Pass<T> | null {
    const waiting = this.rules.filter((rule) => this.waiting.has(rule));
    const open = new Set(waiting.map(({ list }) => list.id));
    // One that cannot be followed waits for nobody: it may need itself.
    const rules = waiting.filter(
      ({ rule }) => rule.problem !== null || ![...rule.needs].some((need) => open.has(need)),
    );
    return rules.length === 0 ? null : { rules, items: this.items.values() };
  }

  /** What rules go by is another matter now: those that are being made begin anew. */
  private breakOff(): void {
    for (const rule of this.pass?.rules ?? []) rule.empty();
    this.pass = null;
  }

  /** Items that came or are others now, and items that went. */
  change(changed: readonly T[], removed: readonly ItemId[]): void {
    this.breakOff();
    const touched = new Set<ItemId>(removed);
    for (const item of changed) touched.add(item.id);
    const before = new Map([...touched].map((id) => [id, this.items.get(id)]));
    for (const id of removed) this.items.delete(id);
    for (const item of changed) this.items.set(item.id, item);
    const moved = new Map<ListId, ReadonlySet<ItemId>>();
    for (const live of this.lists.values())
      if (live instanceof Fixed) {
        const own = live.change(before, this.items);
        if (own.size > 0) moved.set(live.list.id, own);
      }
    this.spread(moved, () => touched);
  }

  /**
   * Brings rules up to what changed, those that others need before them.
   * @param moved items that came into lists or went out of them
   * @param touches items that are another matter to a rule
   */
  private spread(
    moved: Map<ListId, ReadonlySet<ItemId>>,
    touches: (rule: ReadRule) => ReadonlySet<ItemId>,
  ): void {
    for (const rule of this.rules) {
      // It is made of the items as they are then.
      if (this.waiting.has(rule)) continue;
      const own = new Set(touches(rule.rule));
      for (const need of rule.rule.needs) for (const id of moved.get(need) ?? []) own.add(id);
      if (own.size === 0) continue;
      const out = rule.change(own, this.items, this.needed.has(rule.list.id));
      if (out.size > 0) moved.set(rule.list.id, out);
    }
  }

  digests(): readonly ListDigest[] {
    return Array.from(this.own.keys(), (id) => this.lists.get(id)?.digest()).filter(
      (told) => told !== undefined,
    );
  }

  listed(id: ListId): ListedItems {
    return this.lists.get(id)?.listed() ?? { items: [], beyond: [] };
  }

  /** Some lists as a player is to have them, in the order in which they are asked for; those that are gone are left out. */
  forPlayer(ids: readonly ListId[]): readonly (Pick<PlayList, 'id' | 'name' | 'group' | 'type'> & {
    readonly entries: readonly ListEntry[];
    readonly allowsDoubles: boolean;
  })[] {
    return ids.flatMap((id) => {
      const list = this.own.get(id);
      if (!list) return [];
      const { name, group, type } = list;
      const own = { id, name, group, type };
      if (list.type === 'hand')
        return { ...own, entries: entriesOf(list), allowsDoubles: list.allowsDoubles };
      const entries = this.listed(id).items.map((item) => ({ item }));
      return { ...own, entries, allowsDoubles: false };
    });
  }

  /** The lists that an item stands in. */
  listsOf(item: ItemId): readonly ListId[] {
    return [...this.own.keys()].filter((id) => this.lists.get(id)?.has(item));
  }

  why(id: ListId, item: ItemId): WhyListed | null {
    const rule = this.rules.find((one) => one.list.id === id && !this.waiting.has(one));
    const own = this.items.get(item);
    return rule && own ? rule.why(own) : null;
  }

  /** To a rule, an item stands in the lists that the rule needs alone. */
  private worldFor({ needs }: ReadRule): QueryWorld {
    const names = (item: ItemId) =>
      [...needs].flatMap((id) => {
        const live = this.lists.get(id);
        return live?.has(item) ? [live.list.name] : [];
      });
    return { ...this.world, listsOf: names };
  }

  private fixed(list: HandList | MirrorList): Fixed<T> {
    return list.type === 'hand'
      ? new LiveHand(list, this.items, this.amountOf)
      : new LiveMirror(list, this.items, this.amountOf);
  }

  private worldOf({ arrivals, players, playsOn, now }: ListWishes): QueryWorld {
    const { world } = this;
    const added = arrivals && new Map(arrivals);
    const sets = players?.map(([name, items]) => [name, new Set(items)] as const);
    return {
      now,
      lists: Array.from(this.own.values(), ({ name }) => name),
      players: players?.map(([name]) => name) ?? world.players,
      addedAt: added ? (arrival) => added.get(arrival) ?? null : world.addedAt,
      listsOf: () => [],
      playersOf: sets
        ? (item) => sets.flatMap(([name, items]) => (items.has(item) ? [name] : []))
        : world.playersOf,
      playsOn: playsOn ?? world.playsOn,
      playsOf: (item) => this.plays.get(item) ?? null,
    };
  }
}

/** Equal for rules that are read alike: what is said of the last months, or of a list's name, is another matter later. */
const wordsOf = ({ query, problem, needs }: ReadRule): string => JSON.stringify([query, problem, [...needs]]);

/** A list whose items nobody asks for by a rule. */
abstract class Fixed<T extends Listable> implements Live {
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

/** Sums are the same whatever order they were made in. */
const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

const NONE: ReadonlySet<ItemId> = new Set();

class LiveHand<T extends Listable> extends Fixed<T> {
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

class LiveMirror<T extends Listable> extends Fixed<T> {
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

/** An item that meets a rule, with what it counts for. There are as many as items, for each list: they are kept small. */
interface Member extends OrderKeys {
  readonly amount: Amount;
}

/** Rules that are being made, and the items that are left. */
interface Pass<T extends Listable> {
  readonly rules: readonly LiveRule<T>[];
  readonly items: Iterator<T>;
}

class LiveRule<T extends Listable> implements Live {
  private readonly members = new Map<ItemId, Member>();
  private ordered: Member[] = [];
  private readonly total = { seconds: 0, bytes: 0 };
  private readonly dropped: ReadonlySet<ItemId>;
  private readonly ordering: ListOrdering;
  private readonly cap: Cap | null;
  private readonly meets: (item: T) => boolean;
  /** How many of them are within the limit, and what those come to; null once something changed. */
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

  /** Takes an item up where it meets the rule; all are put in order at the end. */
  gather(item: T): void {
    const member = this.memberOf(item);
    if (!member) return;
    this.members.set(item.id, member);
    this.count(member, 1);
  }

  /** Lets go of what was gathered: it begins anew. */
  empty(): void {
    this.members.clear();
    this.total.seconds = this.total.bytes = 0;
  }

  settle(): void {
    this.ordered = [...this.members.values()].sort(this.ordering.compare);
    this.cut = null;
    this.inside = null;
  }

  /** @returns items that are in the list now and were not, or the other way round, where somebody needs to know */
  change(
    touched: ReadonlySet<ItemId>,
    items: ReadonlyMap<ItemId, T>,
    isNeeded: boolean,
  ): ReadonlySet<ItemId> {
    const isLimited = this.cap !== null;
    // What is beyond the limit moves up: the whole list is held against what it was.
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

  /** Few are taken out and put in one by one; of many, all that stay and all that come are merged in one pass. */
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

  /** Where a member stands, or would stand. */
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
type FreeOn = ReadonlyMap<string, { readonly name: string; readonly bytes: number }>;

/** How much a list may come to, and what each member counts for. */
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
      // What lies there already takes nothing of what is free.
      const counts = ({ id, amount }: Member) => (own && playersOf(id).includes(own.name) ? 0 : amount.bytes);
      return own ? { most: own.bytes, counts } : null;
    }
  }
}

const limitOf = ({ list }: ReadRule): ListLimit | null => list.limit;

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
