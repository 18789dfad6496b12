import { ownOrderOf } from '../browse';
import type { ArrivalId, ItemId } from '../items';
import { dayOf, nowhere, remembering, type Asking, type QueryWorld } from '../query';
import { entriesOf } from './hand';
import { readRules, type ReadRule } from './holding';
import type { HandList, ListId, MirrorList, PlayList, PlayerList } from './list';
import { Fixed, LiveHand, LiveMirror } from './live-fixed';
import {
  NONE,
  type ItemAmount,
  type AmountOf,
  type ListDigest,
  type Listable,
  type ListedItems,
  type Live,
} from './live-list';
import { LiveRule, type FreeOn, type WhyListed } from './live-rule';
import type { Play } from './plays';

/** What lists depend on apart from items. Absent parts stay as they were. */
export interface ListWishes {
  /** Lists that are new or changed, and those that were removed. */
  readonly lists?: readonly PlayList[];
  readonly forgotten?: readonly ListId[];
  /** When arrivals came, in milliseconds since 1970. */
  readonly arrivals?: readonly (readonly [ArrivalId, number])[];
  /** Players by their names, with the items that they have. */
  readonly players?: readonly (readonly [name: string, items: readonly ItemId[]])[];
  /** Free bytes of players by id, with their names. Players without a figure have no limit. */
  readonly free?: readonly (readonly [id: string, name: string, bytes: number])[];
  /** Names of the players that play an item as it is. */
  readonly playsOn?: QueryWorld['playsOn'];
  /** Plays since the last time. */
  readonly plays?: readonly Play[];
  /** Items whose plays are forgotten. */
  readonly unplayed?: readonly ItemId[];
  /** Milliseconds since 1970. */
  readonly now: number;
}

/** Items that are gone through between two looks at the time. */
const PASSED_AT_ONCE = 100;
/** Rules that are being made, and the items that are left. */
interface Pass<T extends Listable> {
  readonly rules: readonly LiveRule<T>[];
  readonly items: Iterator<T>;
}

/**
 * All lists, kept up to date as items change: an edit touches only the lists that it can affect. The result equals
 * lists made from scratch.
 */
export class LiveLists<T extends Listable> {
  private readonly items = new Map<ItemId, T>();
  private readonly lists = new Map<ListId, Live>();
  private readonly own = new Map<ListId, PlayList>();
  /** Ordered so that rules come after those that they need. */
  private rules: readonly LiveRule<T>[] = [];
  /** Rules that have not been evaluated yet. */
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
  private readonly amounts = new WeakMap<T, ItemAmount>();
  private readonly asking: Asking<T>;

  constructor(asking: Asking<T>) {
    this.asking = remembering(asking);
  }

  /**
   * Applies changes to lists, arrivals, players and the time.
   * @param budget milliseconds for evaluating rules; the rest is done later
   * @returns whether all rules are evaluated
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
        !(rule.list.limit?.by === 'free' && (players !== undefined || free !== undefined));
      if (stands) return old;
      fresh.add(id);
      return this.anew(rule);
    });
    this.needed = new Set(this.rules.flatMap(({ rule }) => [...rule.needs]));
    this.spreadPlays(played);
    return this.work(budget);
  }

  /** A rule to be evaluated. Until then nothing is reported about its list. */
  private anew(rule: ReadRule): LiveRule<T> {
    const live = new LiveRule(rule, this.asking, this.worldFor(rule), this.amountOf, this.free);
    this.lists.delete(rule.list.id);
    this.waiting.add(live);
    return live;
  }

  /** Free space on players changed: rules limited by it are evaluated again. */
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

  /** New plays affect only rules that ask about plays. */
  private spreadPlays(touched: ReadonlySet<ItemId>): void {
    if (touched.size > 0)
      this.spread(new Map(), ({ asks }) => (asks.has('played') || asks.has('last played') ? touched : NONE));
  }

  /**
   * Evaluates waiting rules. Rules that do not need each other share passes over the items, so that each item's values
   * are looked up once.
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
    // A rule that cannot be evaluated does not wait for others: it may need itself.
    const rules = waiting.filter(
      ({ rule }) => rule.problem !== null || ![...rule.needs].some((need) => open.has(need)),
    );
    return rules.length === 0 ? null : { rules, items: this.items.values() };
  }

  /** Something that rules depend on changed: those under way start again. */
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
   * Updates rules after a change, those that others need first.
   * @param moved items that entered or left lists
   * @param touches items for which a rule may answer differently
   */
  private spread(
    moved: Map<ListId, ReadonlySet<ItemId>>,
    touches: (rule: ReadRule) => ReadonlySet<ItemId>,
  ): void {
    for (const rule of this.rules) {
      // It will be evaluated on the items as they are then.
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

  /** Some lists with their content for a player, in the order given; removed ones are left out. */
  forPlayer(ids: readonly ListId[]): readonly PlayerList[] {
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

  /** The lists that contain an item. */
  listsOf(item: ItemId): readonly ListId[] {
    return [...this.own.keys()].filter((id) => this.lists.get(id)?.has(item));
  }

  why(id: ListId, item: ItemId): WhyListed | null {
    const rule = this.rules.find((one) => one.list.id === id && !this.waiting.has(one));
    const own = this.items.get(item);
    return rule && own ? rule.why(own) : null;
  }

  /** A rule sees only the lists that it needs. */
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

/** Equal for rules with the same meaning. Relative dates and names of lists can change their meaning later. */
const wordsOf = ({ query, problem, needs }: ReadRule): string => JSON.stringify([query, problem, [...needs]]);
