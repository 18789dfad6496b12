import type { ArrivalId, Item, ItemId } from '$lib/core/items';
import type { PlayerId } from '$lib/core/library';
import type { PlacedFile } from '$lib/core/plan';
import { asked } from '$lib/core/browse';
import {
  ListOrdering,
  itemsIn,
  mirrors,
  newHandList,
  putIn,
  putOpen,
  type ListDigest,
  type ListEntry,
  type ListId,
  type ListOrderKey,
  type ListedItems,
  type OpenSaid,
  type OrderKeys,
  type Play,
  type PlayList,
  type PutIn,
  type WhyListed,
} from '$lib/core/lists';
import { namesIn, sameName, type Query, type QueryWorld } from '$lib/core/query';
import { playsOnBy, type Rulebook } from '$lib/core/rulebooks';
import { newId } from '$lib/io/new-id';
import type { ListsTold } from '$lib/workers/library-protocol';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';
import type { Players } from '../player/players.svelte';
import { listOf, noteOn, type ListRead } from './list-files';

/** Milliseconds that edits settle for before lists are looked at again. */
const SETTLE = 80;
const NOTHING: readonly never[] = [];
const NOTHING_FOUND: ListedItems = { items: NOTHING, beyond: NOTHING };

/** What is found in the lists that hold no entries of their own. */
interface Found {
  readonly of: ListId;
  readonly listed: ListedItems;
}

/** The lists of a library: their summaries, the selected one, and adding items. */
export class ListDesk {
  chosenId = $state<ListId | null>(null);
  digests = $state.raw<ReadonlyMap<ListId, ListDigest>>(new Map());
  private found = $state.raw<Found | null>(null);
  /** Items of rule lists, needed if a query asks about lists or a player gets only listed items. */
  private held = $state.raw<ReadonlyMap<ListId, ReadonlySet<ItemId>>>(new Map());
  /** Why lists could not be looked at; null while they could. */
  trouble = $state<string | null>(null);

  /** What queries can ask apart from items: a new object whenever any of it changes. */
  readonly world: QueryWorld = $derived.by(() => this.worldNow());

  private isOpen = false;
  /** Rule lists that the query in force asks about. */
  private asked: ReadonlySet<ListId> = new Set();
  private timer: ReturnType<typeof setTimeout> | null = null;
  private looking: Promise<void> = Promise.resolve();
  /** What the worker was last sent, and the generation of that worker. */
  private told: Pick<ListsTold, 'arrivals' | 'players' | 'free' | 'rulebooks'> = {};
  private toldPlays: ReadonlyMap<ItemId, Play> = new Map();
  private toldLists = new Map<ListId, PlayList>();
  private toldBy = -1;

  constructor(
    private readonly library: Library,
    private readonly mirror: LibraryMirror,
    private readonly players: Players,
  ) {
    library.onChange(() => this.lookSoon());
  }

  get chosen(): PlayList | null {
    const { chosenId } = this;
    return this.library.lists.find(({ id }) => id === chosenId) ?? null;
  }

  /** The content of the selected list if it is not a hand list; null while it is loaded. */
  get listed(): ListedItems | null {
    return this.found?.of === this.chosenId ? (this.found?.listed ?? NOTHING_FOUND) : null;
  }

  choose(id: ListId | null): void {
    this.chosenId = id;
    void this.look();
  }

  /** Looks at lists from now on, and keeps them current. */
  open(): void {
    void this.look();
  }

  /** Keeps at hand what a query asks about: only the worker knows the content of rule lists. */
  hold(query: Query): void {
    const asked = new Set<ListId>();
    for (const { name, compare } of namesIn(query)) {
      if (name.name !== 'list') continue;
      for (const { id, type, name: own } of this.library.lists)
        if (type === 'rule' && (compare.type !== 'is' || sameName(own, compare.text))) asked.add(id);
    }
    const isMore = [...asked].some((id) => !this.asked.has(id));
    this.asked = asked;
    if (isMore) void this.look();
  }

  lookSoon(): void {
    if (!this.isOpen || this.timer !== null) return;
    this.timer = setTimeout(() => void this.look(), SETTLE);
  }

  /** Sends changes to the worker and loads summaries, one call after another. */
  look(): Promise<void> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.isOpen = true;
    this.looking = this.looking.then(() => this.lookNow());
    return this.looking;
  }

  private async lookNow(): Promise<void> {
    const { chosenId, mirror } = this;
    try {
      const generation = await mirror.bring();
      // Rule lists are made in slices: what is ready is announced, and other questions are answered in between.
      for (let isWhole = false; !isWhole;) {
        const told = await mirror.client.lists(this.changedFor(generation), generation);
        this.digests = new Map(told.digests.map((digest) => [digest.id, digest]));
        ({ isWhole } = told);
      }
      const chosen = this.library.lists.find(({ id }) => id === chosenId);
      if (chosen && chosen.type !== 'hand') {
        const listed = await mirror.client.listed(chosen.id, generation);
        this.found = { of: chosen.id, listed };
      }
      await this.fetchHeld(generation);
      this.trouble = null;
    } catch (error) {
      this.toldBy = -1;
      this.trouble = error instanceof Error ? error.message : String(error);
    }
  }

  /** Lists other than hand lists that decide what a player gets. */
  private listsOfPlayers(): readonly ListId[] {
    const fixed = new Set(this.library.lists.flatMap(({ id, type }) => (type === 'hand' ? id : [])));
    return this.players.list.flatMap(({ player: { selection } }) =>
      selection.onlyListed ? (selection.lists ?? []).filter((id) => !fixed.has(id)) : [],
    );
  }

  /** The items in some lists, each once. */
  itemsOf(ids: readonly ListId[]): ReadonlySet<ItemId> {
    const wanted = new Set(ids);
    const items = new Set<ItemId>();
    for (const list of this.library.lists) {
      if (!wanted.has(list.id)) continue;
      for (const item of list.type === 'hand' ? itemsIn(list) : (this.held.get(list.id) ?? NOTHING))
        items.add(item);
    }
    return items;
  }

  private async fetchHeld(generation: number): Promise<void> {
    const held = new Map<ListId, ReadonlySet<ItemId>>();
    for (const id of new Set([...this.asked, ...this.listsOfPlayers()]))
      held.set(id, new Set((await this.mirror.client.listed(id, generation)).items));
    const before = this.held;
    const isSame = (id: ListId, items: ReadonlySet<ItemId>) => {
      const own = before.get(id);
      return own?.size === items.size && [...items].every((item) => own.has(item));
    };
    if (held.size !== before.size || ![...held].every(([id, items]) => isSame(id, items))) this.held = held;
  }

  /** The lists that the worker does not have in their present form. */
  private changedFor(generation: number): ListsTold {
    if (generation !== this.toldBy) {
      this.told = {};
      this.toldPlays = new Map();
      this.toldLists = new Map();
    }
    this.toldBy = generation;
    const { told, toldLists, toldPlays, arrivals, playerItems: players, rulebooks, free, plays } = this;
    const { lists } = this.library;
    const changed = lists.filter((list) => toldLists.get(list.id) !== list);
    this.toldLists = new Map(lists.map((list) => [list.id, list]));
    const forgotten = [...toldLists.keys()].filter((id) => !this.toldLists.has(id));
    this.told = { arrivals, players, free, rulebooks };
    this.toldPlays = plays;
    const played =
      plays === toldPlays ? [] : [...plays.values()].filter((one) => toldPlays.get(one.item) !== one);
    const unplayed = plays === toldPlays ? [] : [...toldPlays.keys()].filter((item) => !plays.has(item));
    return {
      now: Date.now(),
      ...(changed.length > 0 && { lists: changed }),
      ...(forgotten.length > 0 && { forgotten }),
      ...(arrivals !== told.arrivals && { arrivals }),
      ...(players !== told.players && { players }),
      ...(rulebooks !== told.rulebooks && { rulebooks }),
      ...(JSON.stringify(free) !== JSON.stringify(told.free) && { free }),
      ...(played.length > 0 && { plays: played }),
      ...(unplayed.length > 0 && { unplayed }),
    };
  }

  private readonly arrivals: readonly (readonly [ArrivalId, number])[] = $derived.by(() =>
    this.library.arrivals.map(({ id, at }) => [id, at] as const),
  );

  /** The items that each player has by our hand. */
  private readonly playerItems: readonly (readonly [string, readonly ItemId[]])[] = $derived.by(() => {
    const bases = new Map(this.library.bases.map(({ target, placed }) => [target, placed]));
    return this.players.list.map(
      ({ name, target }) => [name, itemsOf(bases.get(target.id) ?? NOTHING)] as const,
    );
  });

  private readonly rulebooks: readonly (readonly [string, Rulebook])[] = $derived.by(() =>
    this.players.list.map(({ name, rulebook }) => [name, rulebook] as const),
  );

  /** Free bytes on players, as far as known. */
  readonly free: readonly (readonly [PlayerId, string, number])[] = $derived.by(() =>
    this.players.list.flatMap(({ id, name, rehearsal }) => {
      const bytes = rehearsal.plan?.room.free ?? null;
      return bytes === null ? [] : [[id, name, bytes] as const];
    }),
  );

  private readonly plays: ReadonlyMap<ItemId, Play> = $derived.by(
    () => new Map(this.library.plays.map((play) => [play.item, play])),
  );

  private worldNow(): QueryWorld {
    const { library, held } = this;
    const { lists } = library;
    const added = new Map(this.arrivals);
    const { playerItems: players, plays } = this;
    const playsOn = playsOnBy(this.rulebooks);
    let sets: readonly (readonly [string, ReadonlySet<ItemId>])[] | null = null;
    const holds = (list: PlayList, item: Item) => {
      if (list.type === 'mirror') return mirrors(list, item);
      return (list.type === 'hand' ? itemsIn(list) : held.get(list.id))?.has(item.id) ?? false;
    };
    return {
      now: Date.now(),
      lists: lists.map(({ name }) => name),
      players: players.map(([name]) => name),
      addedAt: (arrival) => added.get(arrival) ?? null,
      listsOf: (id) => {
        const item = library.find(id);
        return item ? lists.flatMap((list) => (holds(list, item) ? [list.name] : [])) : NOTHING;
      },
      playersOf: (id) => {
        sets ??= players.map(([name, items]) => [name, new Set(items)] as const);
        return sets.flatMap(([name, items]) => (items.has(id) ? [name] : []));
      },
      playsOn,
      playsOf: (id) => plays.get(id) ?? null,
    };
  }

  /** The lists that contain an item. */
  async listsOf(item: ItemId): Promise<readonly PlayList[]> {
    await this.look();
    const ids = await this.mirror.client.listsOf(item, this.toldBy);
    return ids.flatMap((id) => this.library.lists.find((list) => list.id === id) ?? []);
  }

  why(list: ListId, item: ItemId): Promise<WhyListed | null> {
    return this.mirror.client.whyListed(list, item, this.toldBy);
  }

  /** Compares entries by the sort keys of their items; those without an item come last. */
  comparing(by: ListOrderKey): (a: ListEntry, b: ListEntry) => number {
    const ordering = new ListOrdering({ type: 'terms', terms: [{ by, down: false }] });
    const { library, world } = this;
    const keys = new Map<ItemId, OrderKeys | null>();
    const keyOf = (entry: ListEntry): OrderKeys | null => {
      if (!('item' in entry)) return null;
      let key = keys.get(entry.item);
      if (key === undefined) {
        const item = library.find(entry.item);
        keys.set(entry.item, (key = item && ordering.keysOf(asked(item), world)));
      }
      return key;
    };
    return (a, b) => {
      const [one, other] = [keyOf(a), keyOf(b)];
      return one && other ? ordering.compare(one, other) : Number(!one) - Number(!other);
    };
  }

  /**
   * Reads a list file as a hand list, as one act.
   * @param path of the file below the root of its source, if it has one: entries are relative to it
   * @throws {WorkerError} that says why it is not a list
   */
  async readFile(file: File, path = file.name): Promise<ListRead> {
    const bytes = await file.arrayBuffer();
    const generation = await this.mirror.bring();
    const { name, resolved } = await this.mirror.client.readList(path, bytes, generation);
    const read = listOf(file.name, this.freeName(name), resolved);
    this.keep(read.list, `Read list ${read.list.name}`);
    return read;
  }

  /** Reads a list file found beside media, unless it was read before. @returns whether it is a list */
  async readFound(file: File, path: string): Promise<boolean> {
    const note = noteOn(file.name);
    if (this.library.lists.some((list) => list.type === 'hand' && list.note === note)) return true;
    return this.readFile(file, path).then(
      () => true,
      () => false,
    );
  }

  /** A list by its name, whatever the letter case. */
  named(name: string): PlayList | null {
    return this.library.lists.find((list) => sameName(list.name, name)) ?? null;
  }

  /** A name that no list has, based on another one. */
  freeName(base: string): string {
    for (let count = 1; ; count++) {
      const name = count === 1 ? base : `${base} ${count}`;
      if (!this.named(name)) return name;
    }
  }

  /** Saves a list as an act with this label, and loads its summary. */
  keep(list: PlayList, label: string): void {
    this.library.keepList(list, label);
    void this.look();
  }

  forget(list: PlayList): void {
    this.library.forgetList(list);
    if (this.chosenId === list.id) this.choose(null);
    else void this.look();
  }

  /**
   * Adds items to the hand list of this name, or to a new one.
   * @param suite adds them as one suite, with this name if it has one; null adds them singly
   * @returns the result; the list itself if items cannot be added to it by hand
   */
  add(
    name: string,
    items: readonly ItemId[],
    suite: { readonly name: string | null } | null,
  ): { readonly list: PlayList; readonly put: PutIn | null } {
    const known = this.named(name);
    if (known && known.type !== 'hand') return { list: known, put: null };
    const list = known ?? newHandList(newId() as ListId, name.trim());
    const put = putIn(list, items, suite);
    if (put.list !== known) this.keep(put.list, `Add ${put.added} to ${list.name}`);
    return { list: put.list, put };
  }

  /** Adds entries that are not fetched yet to the hand list of this name, or to a new one. */
  addOpen(name: string, opens: readonly OpenSaid[]): { readonly list: PlayList; readonly put: PutIn | null } {
    const known = this.named(name);
    if (known && known.type !== 'hand') return { list: known, put: null };
    const list = known ?? newHandList(newId() as ListId, name.trim());
    const put = putOpen(list, opens);
    if (put.list !== known) this.keep(put.list, `Add ${put.added} to ${list.name}`);
    return { list: put.list, put };
  }

  end(): void {
    if (this.timer) clearTimeout(this.timer);
  }
}

function itemsOf(placed: readonly PlacedFile[]): readonly ItemId[] {
  return placed.flatMap(({ owner, gone }) => (owner?.type === 'item' && !gone ? [owner.item] : []));
}
