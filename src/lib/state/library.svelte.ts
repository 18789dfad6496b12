import {
  EMPTY_HISTORY,
  carryOver,
  changeParts,
  mergeParts,
  newPlayer,
  withChoices,
  record,
  redo,
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
import {
  marked,
  playedAgain,
  unmarked,
  type ListId,
  type ListMarks,
  type Play,
  type PlayList,
  type WatchedTree,
} from '$lib/core/lists';
import type { Preset } from '$lib/core/rewrite';
import type { PlacedFile, PlayerChoices } from '$lib/core/plan';
import type { NamedRecipe } from '$lib/core/twins';
import { LibraryStorage, type FirstOfLibrary, type HeadPart } from '$lib/io/storage';
import { LibraryRecords } from './library-records';
import { soon } from './soon';
import type { KeptQueue } from './playback.svelte';

/** Items of a library file that come in before the page gets its turn. */
const MERGED_AT_ONCE = 250;
/** Records taken over before it. */
const CHUNKS_AT_ONCE = 20;
/** Changes at once beyond which those who follow do better to look at all items anew. */
const MANY = 10_000;
const nextTurn = () => new Promise<void>((resolve) => soon(resolve));

type ChangeListener = (changes: readonly ItemChange[] | null) => void;

/** What is there of a target that no run wrote to. */
const NOTHING: readonly PlacedFile[] = [];

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
  /** How often items were played to their ends, and what of each list was. */
  plays = $state.raw<readonly Play[]>([]);
  marks = $state.raw<readonly ListMarks[]>([]);
  /** What is looked at, kept under names. */
  views = $state.raw<readonly SavedView[]>([]);
  /** What is said again and again, kept under names. */
  presets = $state.raw<readonly Preset[]>([]);
  /** Ways to convert, by name. */
  recipes = $state.raw<readonly NamedRecipe[]>([]);
  /** What is played one after the other, where it was played since the library was opened. */
  queue: KeptQueue | null = null;
  history = $state.raw<History>(EMPTY_HISTORY);
  /** Set while the browser refuses to keep something. */
  keepFailure = $state.raw<string | null>(null);
  /** Set when what the browser had kept was deleted while the library was open. It is written anew then. */
  isStorageLost = $state(false);
  /** Only the first items are there: they can be looked at, and nothing is changed until all are. */
  reading = $state(false);
  /** About how many items there are in all, while they are read. */
  expected = $state(0);
  /** This tab has the library; another one may only look on. */
  works = $state(true);

  readonly storage: LibraryStorage;
  private places = new Map<ItemId, number>();
  /** What is shown is of a file that is being read, and not kept. */
  private isPreview = false;
  /** A preview ended, and listeners still show it. */
  private isUntold = false;
  private readonly listeners = new Set<ChangeListener>();
  private readonly records: LibraryRecords;

  constructor(readonly name: string) {
    this.storage = new LibraryStorage(name, () => this.mayWrite);
    this.records = new LibraryRecords(this.storage, this);
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
    this.setParts(kept.head);
    this.history = EMPTY_HISTORY;
    await this.setChunks(kept.chunks);
    await this.records.takeOver(kept);
    this.tell(null);
    return !kept.isOld && !kept.headIsOld;
  }

  private showFirst({ head, items, share }: FirstOfLibrary): void {
    this.reading = true;
    this.expected = Math.round(items.length / share);
    this.setParts(head);
    this.setItems(items);
    this.tell(null);
  }

  /** Shows the first items of a library file while it is looked through, where there is nothing else to look at. */
  preview(head: HeadParts, items: readonly Item[]): void {
    if (this.items.length > 0 || !this.mayWrite) return;
    this.isPreview = true;
    this.reading = true;
    this.arrivals = head.arrivals;
    this.setItems(items);
    this.tell(null);
  }

  /** Ends the preview, so that the library can be written to. Listeners are told by what comes next, or by `closePreview`. */
  endPreview(): void {
    if (!this.isPreview) return;
    this.isPreview = false;
    this.isUntold = true;
    this.reading = false;
    this.arrivals = [];
    this.setItems([]);
  }

  /** Ends the preview, and tells listeners if nothing came in its place. */
  closePreview(): void {
    this.endPreview();
    if (this.isUntold) this.tell(null);
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
    for (const { part, key } of parts) {
      if (part === 'bases') this.records.mark(`base ${key}`);
      else if (part === 'lists') this.records.mark(`list ${key}`, 'part lists');
      else this.records.mark(`part ${part}`);
    }
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
    this.isUntold = false;
    for (const listener of this.listeners) listener(changes);
  }

  /** Where an item stands: mostly right behind the one that was looked for before it. */
  private placeOf(id: ItemId, last: number | undefined, list: readonly Item[]): number | undefined {
    const next = (last ?? -1) + 1;
    return list[next]?.id === id ? next : this.places.get(id);
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
    let place: number | undefined;
    for (const { id } of items) {
      // As it is now: a list that somebody holds may be a moment behind.
      place = this.placeOf(id, place, this.items);
      const item = place === undefined ? undefined : this.items[place];
      if (!item) continue;
      const after = change(item);
      if (after !== item) changes.push({ id, before: item, after });
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
    const removed = new Set<ItemId>();
    let place: number | undefined;
    for (const { id, after } of changes) {
      place = this.placeOf(id, place, list);
      const before = place === undefined ? null : (list[place] ?? null);
      if (after && place === undefined) {
        this.places.set(id, list.push(after) - 1);
        this.records.assign(id);
      } else if (after && place !== undefined) list[place] = after;
      if (before && !after) removed.add(id);
      this.records.note(id, before, after);
      done?.push({ before, after });
    }
    this.records.markNoted();
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
    const { sources, arrivals, players, bases, folderKinds, feeds, watched, lists, views } = this;
    const { plays, marks, presets, recipes } = this;
    const lately = { lists, plays, marks, views, presets, recipes };
    return { sources, arrivals, players, bases, folderKinds, feeds, watched, ...lately };
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
    this.plays = parts.plays;
    this.marks = parts.marks;
    this.views = parts.views;
    this.presets = parts.presets;
    this.recipes = parts.recipes;
  }

  setFeeds(feeds: readonly Feed[]): void {
    this.changePart('feeds', feeds);
  }

  setWatched(watched: readonly WatchedTree[], lists: readonly PlayList[] = this.lists): void {
    this.changePart('watched', watched);
    if (lists !== this.lists) this.setLists(lists);
  }

  /** Takes lists as they are, as no act of the curator's. */
  setLists(lists: readonly PlayList[]): void {
    if (!this.mayWrite) return;
    const before = new Set(this.lists);
    for (const list of lists) if (!before.has(list)) this.records.mark(`list ${list.id}`);
    this.changePart('lists', lists);
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
    const label = `Remove player ${player.name ?? player.id}`;
    if (comesAlong) this.setPlayer({ ...player, off: true }, label);
    else this.actOnPart({ part: 'players', key: player.id, before: player, after: null }, label);
  }

  setChoices(player: Player, { id }: Target, choices: PlayerChoices, label?: string): void {
    this.setPlayer(withChoices(player, id, choices), label);
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

  /** Keeps a recipe, in place of the one of its id. */
  keepRecipe(recipe: NamedRecipe): void {
    const before = this.recipes.find(({ id }) => id === recipe.id) ?? null;
    this.actOnPart({ part: 'recipes', key: recipe.id, before, after: recipe }, `Recipe ${recipe.name}`);
  }

  forgetRecipe(recipe: NamedRecipe): void {
    const change = { part: 'recipes', key: recipe.id, before: recipe, after: null } as const;
    this.actOnPart(change, `Forget recipe ${recipe.name}`);
  }

  /** Keeps a list, in place of the one of its id. @param label names the act, which can be undone */
  keepList(list: PlayList, label: string): void {
    const before = this.lists.find(({ id }) => id === list.id) ?? null;
    if (before !== list) this.actOnPart({ part: 'lists', key: list.id, before, after: list }, label);
  }

  forgetList(list: PlayList): void {
    this.actOnPart({ part: 'lists', key: list.id, before: list, after: null }, `Delete list ${list.name}`);
  }

  /** Keeps what is played, as it is: a tab that only looks on keeps nothing. */
  keepQueue(queue: KeptQueue): void {
    if (!this.mayWrite) return;
    const isSame = queue.suites === this.queue?.suites;
    this.queue = queue;
    this.records.markQueue(isSame);
  }

  /** Notes that an item was played to its end, in a list where it was played from one: no act of the curator's. */
  notePlayed(item: ItemId, list: ListId | null): void {
    const play = this.plays.find((one) => one.item === item) ?? null;
    this.actOnPart({ part: 'plays', key: item, before: play, after: playedAgain(play, item, Date.now()) });
    if (list === null) return;
    const marks = this.marks.find((one) => one.list === list) ?? null;
    const after = marked(marks ?? { list, items: [] }, [item]);
    if (after !== marks) this.actOnPart({ part: 'marks', key: list, before: marks, after });
  }

  /** Clears the marks of a list, of some items or of all. @param label names the act, which can be undone; none without */
  clearMarks(list: ListId, items: ReadonlySet<ItemId> | null, label?: string): void {
    const marks = this.marks.find((one) => one.list === list);
    if (!marks) return;
    this.actOnPart(
      { part: 'marks', key: list, before: marks, after: items && unmarked(marks, items) },
      label,
    );
  }

  /** Forgets how often items were played, as an act. */
  forgetPlays(items: ReadonlySet<ItemId>, label: string): void {
    const parts = this.plays.flatMap((play): PartChange[] =>
      items.has(play.item) ? [{ part: 'plays', key: play.item, before: play, after: null }] : [],
    );
    if (parts.length === 0 || !this.mayWrite) return;
    this.putParts(parts);
    this.history = record(this.history, { label, changes: [], parts });
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
    this.records.mark(`base ${target}`);
  }

  /** Changes something that is kept beside the items. A tab that only looks on changes nothing. */
  private changePart<P extends HeadPart>(part: P, entries: HeadParts[P]): void {
    if (!this.mayWrite) return;
    this.setParts({ ...this.headParts(), [part]: entries });
    this.records.mark(`part ${part}`);
  }

  /** Told while a take-in runs, so that records are not written over and over. */
  setBusy(busy: boolean): void {
    this.records.busy = busy;
  }

  /** Names the library as it is: another one with every change. */
  get stamp(): string {
    return this.records.stamp;
  }

  /** The stamp of the library as the browser has it too; null while that is another one. */
  get restingAs(): string | null {
    return this.reading ? null : this.records.restingAs;
  }

  /** Waits until the browser has kept everything. What it refused is told in `keepFailure`. */
  async flush(): Promise<void> {
    if (this.mayWrite) await this.records.flush();
  }

  /** Brings what an earlier version kept to this one, in the tab that works: one that takes over calls it then. */
  keepAsNow(): Promise<void> {
    return this.records.keepAsNow();
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
    this.records.clear();
    for (const [index, chunk] of chunks.entries()) {
      const ids: ItemId[] = [];
      for (const item of chunk) {
        const place = this.places.get(item.id);
        // Stores that an earlier version wrote hold some items twice.
        if (place !== undefined) items[place] = item;
        else {
          this.places.set(item.id, items.push(item) - 1);
          ids.push(item.id);
        }
      }
      this.records.add(ids);
      if (index % CHUNKS_AT_ONCE === CHUNKS_AT_ONCE - 1) await nextTurn();
    }
    this.items = items;
  }
}
