import {
  EMPTY_HISTORY,
  carryOver,
  changeParts,
  mergeParts,
  newPlayer,
  record,
  redo,
  saidOf,
  saysAnything,
  sameOriginal,
  sameSaid,
  undo,
  type Act,
  type Change,
  type History,
  type HeadParts,
  type LibraryHead,
  type PartChange,
  type Player,
  type PlayerId,
  type Target,
  type TargetId,
} from '$lib/core/library';
import {
  editItem,
  type Arrival,
  type Edits,
  type Item,
  type ItemId,
  type Source,
  type SourceId,
} from '$lib/core/items';
import type { ItemChange } from '$lib/core/browse';
import type { Feed } from '$lib/core/feeds';
import type { FolderKind, Kind } from '$lib/core/kinds';
import type { SavedView } from '$lib/core/browse';
import type { PlayList, WatchedTree } from '$lib/core/lists';
import type { Preset } from '$lib/core/rewrite';
import type { PlacedFile, PlayerChoices } from '$lib/core/plan';
import {
  CHUNK_ITEMS,
  FIRST_CHUNKS,
  HEAD_PARTS,
  LibraryStorage,
  type FirstOfLibrary,
  SAID_ITEMS,
  isLarge,
  type HeadPart,
} from '$lib/io/storage/library-storage';
import { newId } from '$lib/io/new-id';
import { WriteBehind } from './write-behind';

/** Items of a library file that come in before the page gets its turn. */
const MERGED_AT_ONCE = 250;
/** Records taken over before it. */
const CHUNKS_AT_ONCE = 20;
/** Changes at once beyond which those who follow do better to look at all items anew. */
const MANY = 10_000;
const nextTurn = () => new Promise<void>((resolve) => setTimeout(resolve));

/** Where the handle of a player's folder is kept. */
export const placeKey = (player: PlayerId): SourceId => `place-folder.${player}` as SourceId;

type ChangeListener = (changes: readonly ItemChange[] | null) => void;

/** What is there of a target that no run wrote to. */
const NOTHING: readonly PlacedFile[] = [];

/** Records that changes are to be kept in. */
interface Touched {
  readonly items: Set<number>;
  readonly said: Set<number>;
}

type Kept = `items ${number}` | `said ${number}` | `base ${string}` | `part ${HeadPart}` | 'first' | 'head';

/** The items of one library, their edits with undo, and what is kept of them in the browser. */
export class Library {
  items = $state.raw<readonly Item[]>([]);
  sources = $state.raw<readonly Source[]>([]);
  arrivals = $state.raw<readonly Arrival[]>([]);
  players = $state.raw<LibraryHead['players']>([]);
  bases = $state.raw<LibraryHead['bases']>([]);
  /** Kinds set for folders or learnt from corrections. */
  folderKinds = $state.raw<readonly FolderKind[]>([]);
  feeds = $state.raw<readonly Feed[]>([]);
  watched = $state.raw<readonly WatchedTree[]>([]);
  lists = $state.raw<readonly PlayList[]>([]);
  /** What is looked at, kept under names. */
  views = $state.raw<readonly SavedView[]>([]);
  /** What is said again and again, kept under names. */
  presets = $state.raw<readonly Preset[]>([]);
  history = $state.raw<History>(EMPTY_HISTORY);
  /** Set when the browser refused to keep something. */
  keepFailure = $state.raw<string | null>(null);
  /** Only the first items are there: they can be looked at, and nothing is changed until all are. */
  reading = $state(false);
  /** About how many items there are in all, while they are read. */
  expected = $state(0);
  /** This tab has the library; another one may only look on. */
  works = $state(true);

  readonly storage: LibraryStorage;
  private places = new Map<ItemId, number>();
  private readonly listeners = new Set<ChangeListener>();
  private chunkOf = new Map<ItemId, number>();
  /** Items of each record in the browser's storage, those forgotten since included. */
  private chunks: ItemId[][] = [];
  /** What is said of items is kept apart from them; not yet where an earlier version kept it with them. */
  private apart = true;
  /** So are the parts beside the items from each other. */
  private partsApart = true;
  private headIsOld = false;
  private saidIn = new Map<ItemId, number>();
  /** Items of each record of edits, those that nothing is said of any more included. */
  private saidRecords: ItemId[][] = [];
  /** Records of edits that say something of the first items: those that a large library shows before all are read. */
  private saidOfFirst = new Set<number>();
  private readonly behind: WriteBehind<Kept>;
  /** Names the library as it is: another one with every change. */
  private current = newId();
  private keptStamp: string | null = null;

  constructor(readonly name: string) {
    this.storage = new LibraryStorage(name, () => this.mayWrite);
    this.behind = new WriteBehind(
      (key) => this.keep(key),
      (error) => (this.keepFailure = error instanceof Error ? error.message : String(error)),
    );
  }

  /**
   * Reads what the browser kept. Of a large library the first items can be looked at while the rest is read.
   * @param onFirst called once those are there
   * @returns whether it is kept as this version keeps it: otherwise it is kept anew
   * @throws {RangeError} when a newer version wrote it
   */
  async load(onFirst: () => void = () => {}): Promise<boolean> {
    const kept = await this.storage.load((begun) => {
      this.showFirst(begun);
      onFirst();
    });
    this.reading = false;
    if (!kept) return true;
    const { head, chunks, said, saidOfFirst, isOld, headIsOld, partsApart } = kept;
    this.setParts(head);
    this.saidRecords = said.map((record) => [...record]);
    this.saidIn = new Map(said.flatMap((record, index) => record.map((id) => [id, index] as const)));
    this.history = EMPTY_HISTORY;
    await this.setChunks(chunks);
    this.apart = !isOld;
    this.partsApart = partsApart;
    this.headIsOld = headIsOld;
    this.saidOfFirst = new Set(saidOfFirst);
    if (isLarge(chunks.length)) this.findSaidOfFirst(saidOfFirst !== null);
    this.keptStamp = await this.storage.findStamp();
    this.current = this.keptStamp ?? newId();
    await this.keepAsNow();
    this.tell(null);
    return !isOld && !headIsOld;
  }

  private showFirst({ head, items, share }: FirstOfLibrary): void {
    this.reading = true;
    this.expected = Math.round(items.length / share);
    this.setParts(head);
    this.setItems(items);
    this.tell(null);
  }

  /**
   * Adds what an exported library holds, as one act that can be undone whole. What is there under the same id is
   * replaced.
   */
  async merge(label: string, head: HeadParts, items: readonly Item[]): Promise<void> {
    if (!this.mayWrite) return;
    const changes: Change[] = [];
    for (const [index, item] of items.entries()) {
      changes.push({ id: item.id, before: this.find(item.id), after: item });
      if (index % MERGED_AT_ONCE === MERGED_AT_ONCE - 1) await nextTurn();
    }
    const parts = mergeParts(this.headParts(), head);
    this.putParts(parts);
    // What the page draws of those is a turn of its own.
    await nextTurn();
    // Into the list itself: who follows it is told once, at the end, and not fifty times on the way.
    for (let at = 0; at < changes.length; at += MERGED_AT_ONCE) {
      this.apply(changes.slice(at, at + MERGED_AT_ONCE), this.items as Item[]);
      await nextTurn();
    }
    this.items = [...this.items];
    this.tell(null);
    // An act is there to be undone once it is whole.
    this.history = record(this.history, { label, changes, parts });
  }

  private putParts(parts: readonly PartChange[]): void {
    if (parts.length === 0) return;
    if (!this.mayWrite) return;
    this.setParts(changeParts(this.headParts(), parts));
    for (const { part, key } of parts) this.mark(part === 'bases' ? `base ${key}` : `part ${part}`);
  }

  /** False in a tab that only looks on while another one works, and until all items are there. */
  get mayWrite(): boolean {
    return this.works && !this.reading;
  }

  /** Tells of every change of items: of each what it was and is, or null where all of them may be others. */
  onChange(listener: ChangeListener): void {
    this.listeners.add(listener);
  }

  private tell(changes: readonly ItemChange[] | null): void {
    for (const listener of this.listeners) listener(changes);
  }

  find(id: ItemId): Item | null {
    const place = this.places.get(id);
    return place === undefined ? null : (this.items[place] ?? null);
  }

  findAll(ids: Iterable<ItemId>): Item[] {
    return [...ids].flatMap((id) => this.find(id) ?? []);
  }

  /** One act of the curator, by name: it can be undone. */
  act(label: string, items: readonly Item[], change: (item: Item) => Item | null): void {
    if (!this.mayWrite) return;
    const changes: Change[] = [];
    for (const item of items) {
      const after = change(item);
      if (after !== item) changes.push({ id: item.id, before: item, after });
    }
    this.history = record(this.history, { label, changes });
    this.put(changes);
  }

  edit(label: string, items: readonly Item[], edits: Edits): void {
    this.act(label, items, (item) => editItem(item, edits));
  }

  settle(label: string, items: readonly Item[], kind: (item: Item) => Kind | null): void {
    this.act(label, items, (item) => {
      const settled = kind(item);
      return settled === null || settled === item.settled ? item : { ...item, settled };
    });
  }

  /** Changes that are not the curator's own, such as what a take-in brings: they are not undone. */
  put(changes: readonly Change[]): void {
    if (changes.length === 0 || !this.mayWrite) return;
    const next = [...this.items];
    const done: ItemChange[] | null = changes.length > MANY ? null : [];
    const removed = this.apply(changes, next, done);
    if (removed.size > 0) this.setItems(next.filter(({ id }) => !removed.has(id)));
    else this.items = next;
    this.tell(done);
  }

  /**
   * Changes items in a list, and marks what is to be kept of them. What is to go stays in the list.
   * @param done gets what each was and is, where somebody is to be told
   * @returns those that are to go
   */
  private apply(
    changes: readonly Change[],
    list: Item[],
    done: ItemChange[] | null = null,
  ): ReadonlySet<ItemId> {
    const touched: Touched = { items: new Set(), said: new Set() };
    const removed = new Set<ItemId>();
    for (const { id, after } of changes) {
      const place = this.places.get(id);
      const before = place === undefined ? null : (list[place] ?? null);
      if (after && place === undefined) {
        this.places.set(id, list.push(after) - 1);
        this.assignChunk(id);
      } else if (after && place !== undefined) list[place] = after;
      if (before && !after) removed.add(id);
      this.noteChanged(touched, id, before, after);
      done?.push({ before, after });
    }
    this.mark(
      ...Array.from(touched.items, (record) => `items ${record}` as const),
      ...Array.from(touched.said, (record) => `said ${record}` as const),
    );
    return removed;
  }

  undo(): Act | null {
    return this.mayWrite ? this.step(undo(this.history)) : null;
  }

  redo(): Act | null {
    return this.mayWrite ? this.step(redo(this.history)) : null;
  }

  addSource(source: Source): void {
    this.changePart('sources', [...this.sources, source]);
  }

  addArrival(arrival: Arrival): void {
    this.changePart('arrivals', [...this.arrivals.filter(({ id }) => id !== arrival.id), arrival]);
  }

  /** Everything that is kept beside the items, as it stands. */
  headParts(): HeadParts {
    const { sources, arrivals, players, bases, folderKinds, feeds, watched, lists, views, presets } = this;
    return { sources, arrivals, players, bases, folderKinds, feeds, watched, lists, views, presets };
  }

  private setParts(parts: HeadParts): void {
    this.sources = parts.sources;
    this.arrivals = parts.arrivals;
    this.players = parts.players;
    this.bases = parts.bases;
    this.folderKinds = parts.folderKinds;
    this.feeds = parts.feeds;
    this.watched = parts.watched;
    this.lists = parts.lists;
    this.views = parts.views;
    this.presets = parts.presets;
  }

  setFeeds(feeds: readonly Feed[]): void {
    this.changePart('feeds', feeds);
  }

  setWatched(watched: readonly WatchedTree[], lists: readonly PlayList[] = this.lists): void {
    this.changePart('watched', watched);
    if (lists !== this.lists) this.changePart('lists', lists);
  }

  /** Remembers a folder's kind, in place of what was known of it by the same way. Null forgets it. */
  setFolderKind(source: SourceId, folder: string, by: FolderKind['by'], kind: Kind | null): void {
    const rest = this.folderKinds.filter(
      (one) => one.by !== by || one.source !== source || one.folder !== folder,
    );
    this.changePart('folderKinds', kind === null ? rest : [...rest, { source, folder, by, kind }]);
  }

  /** A player, as it is kept or as it is before anything was decided for it. */
  playerOf(id: PlayerId, rulebook: string): Player {
    return this.players.find((player) => player.id === id) ?? newPlayer(id, rulebook);
  }

  /** Takes a player off, with what is known of what lies there; one that comes with the application is only hidden. */
  removePlayer(player: Player, comesAlong: boolean): void {
    const label = `Take off ${player.name ?? player.id}`;
    if (comesAlong) this.setPlayer({ ...player, off: true }, label);
    else this.actOnPart({ part: 'players', key: player.id, before: player, after: null }, label);
  }

  setChoices(player: Player, { id }: Target, choices: PlayerChoices, label?: string): void {
    const targets = player.targets.map((target) => (target.id === id ? { ...target, choices } : target));
    this.setPlayer({ ...player, targets }, label);
  }

  /** @param label names it as an act of the curator, which can be undone; without, it is none */
  setPlayer(player: Player, label?: string): void {
    const before = this.players.find(({ id }) => id === player.id) ?? null;
    this.actOnPart({ part: 'players', key: player.id, before, after: player }, label);
  }

  /** Keeps a view, in place of the one of its id. */
  keepView(view: SavedView): void {
    const before = this.views.find(({ id }) => id === view.id) ?? null;
    this.actOnPart({ part: 'views', key: view.id, before, after: view }, `View ${view.name}`);
  }

  forgetView(view: SavedView): void {
    this.actOnPart({ part: 'views', key: view.id, before: view, after: null }, `Forget view ${view.name}`);
  }

  /** Keeps a preset, in place of the one of its id. */
  keepPreset(preset: Preset): void {
    const before = this.presets.find(({ id }) => id === preset.id) ?? null;
    this.actOnPart({ part: 'presets', key: preset.id, before, after: preset }, `Preset ${preset.name}`);
  }

  forgetPreset(preset: Preset): void {
    const change = { part: 'presets', key: preset.id, before: preset, after: null } as const;
    this.actOnPart(change, `Forget preset ${preset.name}`);
  }

  private actOnPart(change: PartChange, label?: string): void {
    if (!this.mayWrite) return;
    this.putParts([change]);
    if (label !== undefined) this.history = record(this.history, { label, changes: [], parts: [change] });
  }

  /** What we know that our runs left at a target. */
  baseOf(id: TargetId): readonly PlacedFile[] {
    return this.bases.find(({ target }) => target === id)?.placed ?? NOTHING;
  }

  setBase(target: TargetId, placed: readonly PlacedFile[]): void {
    if (!this.mayWrite) return;
    this.bases = [...this.bases.filter((base) => base.target !== target), { target, placed }];
    this.mark(`base ${target}`);
  }

  /** Changes something that is kept beside the items. A tab that only looks on changes nothing. */
  private changePart<P extends HeadPart>(part: P, entries: HeadParts[P]): void {
    if (!this.mayWrite) return;
    this.setParts({ ...this.headParts(), [part]: entries });
    this.mark(`part ${part}`);
  }

  /** Told while a take-in runs, so that records are not written over and over. */
  setBusy(busy: boolean): void {
    this.behind.busy = busy;
  }

  private mark(...keys: readonly Kept[]): void {
    this.current = newId();
    for (const key of keys) this.behind.mark(key);
  }

  get stamp(): string {
    return this.current;
  }

  /** The stamp of the library as the browser has it too; null while that is another one. */
  get restingAs(): string | null {
    const { stamp, keptStamp, behind, reading } = this;
    return !reading && behind.isIdle && stamp === keptStamp ? stamp : null;
  }

  /** Waits until the browser has kept everything. What it refused is told in `keepFailure`. */
  async flush(): Promise<void> {
    if (!this.mayWrite) return;
    this.behind.mark('head');
    await this.behind.flush();
  }

  /** Whether the browser's storage has all that is here, once what waits is written. */
  get isKept(): boolean {
    return this.mayWrite && this.keepFailure === null;
  }

  private step(turned: ReturnType<typeof undo>): Act | null {
    if (!turned) return null;
    this.history = turned.history;
    this.putParts(turned.act.parts ?? []);
    this.put(turned.act.changes.map((change) => carryOver(change, this.find(change.id))));
    return turned.act;
  }

  private setItems(items: readonly Item[]): void {
    this.places = new Map(items.map((item, index) => [item.id, index]));
    this.items = items;
  }

  /** Takes the records of the browser over, in steps that the page does not feel. */
  private async setChunks(chunks: readonly (readonly Item[])[]): Promise<void> {
    const items: Item[] = [];
    this.places = new Map();
    this.chunkOf = new Map();
    this.chunks = [];
    for (const [index, chunk] of chunks.entries()) {
      const ids: ItemId[] = [];
      for (const item of chunk) {
        const place = this.places.get(item.id);
        // Stores that an earlier version wrote hold some items twice.
        if (place !== undefined) items[place] = item;
        else {
          this.places.set(item.id, items.push(item) - 1);
          this.chunkOf.set(item.id, index);
          ids.push(item.id);
        }
      }
      this.chunks.push(ids);
      if (index % CHUNKS_AT_ONCE === CHUNKS_AT_ONCE - 1) await nextTurn();
    }
    this.items = items;
  }

  private assignChunk(id: ItemId): void {
    // What was forgotten and comes back has its record still.
    if (this.chunkOf.has(id)) return;
    let last = this.chunks.at(-1);
    if (!last || last.length >= CHUNK_ITEMS) {
      this.chunks.push((last = []));
      this.mark('head');
    }
    last.push(id);
    this.chunkOf.set(id, this.chunks.length - 1);
  }

  /** Notes what is to be kept of a change, and nothing else: an edit leaves what its file says alone. */
  private noteChanged({ items, said }: Touched, id: ItemId, before: Item | null, after: Item | null): void {
    if (!(before && after && sameOriginal(before, after))) {
      const chunk = this.chunkOf.get(id);
      if (chunk !== undefined) items.add(chunk);
    }
    if (before && after && sameSaid(before, after)) return;
    const record = this.saidRecordOf(id, after !== null && saysAnything(after));
    if (record !== null) said.add(record);
  }

  /** The record of what is said of an item; one is found for it where something is, for the first time. */
  private saidRecordOf(id: ItemId, says: boolean): number | null {
    let record = this.saidIn.get(id);
    if (record === undefined) {
      if (!says) return null;
      if ((this.saidRecords.at(-1)?.length ?? SAID_ITEMS) >= SAID_ITEMS) this.saidRecords.push([]);
      record = this.saidRecords.length - 1;
      this.saidRecords[record]?.push(id);
      this.saidIn.set(id, record);
      if (isLarge(this.chunks.length) && (this.chunkOf.get(id) ?? FIRST_CHUNKS) < FIRST_CHUNKS)
        this.noteSaidOfFirst(record);
    }
    return record;
  }

  private noteSaidOfFirst(record: number): void {
    if (this.saidOfFirst.has(record)) return;
    this.saidOfFirst.add(record);
    this.behind.mark('first');
  }

  /** Also of a library that has become a large one since, or that an earlier version kept. */
  private findSaidOfFirst(isKept: boolean): void {
    if (!this.mayWrite) return;
    if (!isKept) this.behind.mark('first');
    for (const id of this.chunks.slice(0, FIRST_CHUNKS).flat()) {
      const record = this.saidIn.get(id);
      if (record !== undefined) this.noteSaidOfFirst(record);
    }
  }

  /** Brings what an earlier version kept to this one, in the tab that works: one that takes over calls it then. */
  async keepAsNow(): Promise<void> {
    if (!this.mayWrite) return;
    if (this.headIsOld) await this.keepJournalsAnew();
    const wasApart = this.apart;
    if (!wasApart) await this.keepAnew();
    // The head says which version all else is of: it is the last to be written.
    if (!this.headIsOld || this.keepFailure !== null) return;
    if (wasApart) {
      for (let index = 0; index < this.saidRecords.length; index++) this.mark(`said ${index}`);
      for (let index = 0; index < this.chunks.length; index++) this.mark(`items ${index}`);
    }
    if (this.partsApart) for (const part of HEAD_PARTS) this.mark(`part ${part}`);
    this.mark('head');
    this.headIsOld = false;
  }

  private async keepJournalsAnew(): Promise<void> {
    try {
      for (const { id } of this.players) await this.storage.moveJournals(id);
      await this.storage.moveHandle('place-folder' as SourceId, placeKey('attic' as PlayerId));
    } catch (error) {
      this.keepFailure = error instanceof Error ? error.message : String(error);
    }
  }

  /**
   * Writes all of a library that an earlier version kept. What is said lies with the items until then: it is kept apart
   * first, and where the browser refuses that, the items stay as they are.
   */
  private async keepAnew(): Promise<void> {
    // Before anything else: the next head that is written has no bases in it any more.
    for (const { target } of this.bases) this.mark(`base ${target}`);
    for (const item of this.items) {
      const record = this.saidRecordOf(item.id, saysAnything(item));
      if (record !== null) this.mark(`said ${record}`);
    }
    await this.behind.flush();
    if (this.keepFailure !== null) return;
    this.apart = true;
    for (let index = 0; index < this.chunks.length; index++) this.mark(`items ${index}`);
  }

  private async keep(key: Kept): Promise<void> {
    // Before what it names: what was rehearsed of the library as it was is found no more from here on.
    const { stamp } = this;
    if (stamp !== this.keptStamp) await this.storage.saveStamp(stamp);
    this.keptStamp = stamp;
    if (key === 'head') return this.keepHead();
    if (key === 'first') return this.storage.saveSaidOfFirst([...this.saidOfFirst]);
    const [what, index] = key.split(' ') as ['items' | 'said' | 'base' | 'part', string];
    if (what === 'part') return this.keepPart(index as HeadPart);
    if (what === 'base') return this.storage.saveBase(index as TargetId, this.baseOf(index as TargetId));
    return what === 'items' ? this.keepChunk(Number(index)) : this.keepSaid(Number(index));
  }

  private async keepSaid(index: number): Promise<void> {
    const said = (this.saidRecords[index] ?? []).flatMap((id) => {
      const item = this.find(id);
      const own = item && saidOf(item);
      return own ? [[id, own] as const] : [];
    });
    await this.storage.saveSaid(index, said);
  }

  private async keepHead(): Promise<void> {
    // The head of an earlier version has the parts in it: each has its record before that is written over.
    if (!this.partsApart) for (const part of HEAD_PARTS) await this.storage.savePart(part, this[part]);
    await this.storage.saveHead(this.chunks.length);
    this.partsApart = true;
  }

  private keepPart(part: HeadPart): Promise<void> {
    // Beside a head of an earlier version nobody would look for it.
    return this.partsApart ? this.storage.savePart(part, this[part]) : this.keepHead();
  }

  private async keepChunk(index: number): Promise<void> {
    await this.storage.saveChunk(index, this.findAll(this.chunks[index] ?? []), this.apart);
  }
}
