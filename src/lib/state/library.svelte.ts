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
import type { OwnReference } from '$lib/core/track-lists';
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

/** Items of a library file that are merged per step. */
const MERGED_AT_ONCE = 250;
/** Records read per step. */
const CHUNKS_AT_ONCE = 20;
/** For more changes than this, listeners are told to read all items again. */
const MANY = 10_000;
const nextTurn = () => new Promise<void>((resolve) => soon(resolve));

type ChangeListener = (changes: readonly ItemChange[] | null) => void;

/** The base of a target that no run wrote to. */
const NOTHING: readonly PlacedFile[] = [];

/** The items of one library, edits with undo, and everything that is stored with them in the browser. */
export class Library {
  items = $state.raw<readonly Item[]>([]);
  sources = $state.raw<readonly Source[]>([]);
  arrivals = $state.raw<readonly Arrival[]>([]);
  players = $state.raw<LibraryHead['players']>([]);
  bases = $state.raw<LibraryHead['bases']>([]);
  /** Kinds that were set for folders, or learnt from corrections. */
  folderKinds = $state.raw<readonly FolderKind[]>([]);
  feeds = $state.raw<readonly Feed[]>([]);
  watched = $state.raw<readonly WatchedTree[]>([]);
  lists = $state.raw<readonly PlayList[]>([]);
  /** How often items were played to the end; the marks of played items are kept per list. */
  plays = $state.raw<readonly Play[]>([]);
  marks = $state.raw<readonly ListMarks[]>([]);
  /** Saved views. */
  views = $state.raw<readonly SavedView[]>([]);
  /** Saved presets. */
  presets = $state.raw<readonly Preset[]>([]);
  /** Saved recipes for converting. */
  recipes = $state.raw<readonly NamedRecipe[]>([]);
  /** Track and episode lists of the curator's own. */
  references = $state.raw<readonly OwnReference[]>([]);
  /** The queue, if something was played since the library was opened. */
  queue: KeptQueue | null = null;
  history = $state.raw<History>(EMPTY_HISTORY);
  /** Why the browser refuses to store something; null while it does not. */
  keepFailure = $state.raw<string | null>(null);
  /** Set if the stored data was deleted while the library was open. Everything is stored again then. */
  isStorageLost = $state(false);
  /** Only the first items are there. They can be looked at but not changed. */
  reading = $state(false);
  /** About how many items there will be, while they are read. */
  expected = $state(0);
  /** This is the working tab. Other tabs only look on. */
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
   * Reads the library from the browser storage. The first items of a large one are shown while the rest is read.
   * @param onFirst called once those are there
   * @returns whether it was stored by this version; otherwise it is stored again
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
   * Adds the content of an exported library as one act, with one undo. Items with the same id are replaced.
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
    // The page draws these in a task of its own.
    await nextTurn();
    // Changes the array in place, so that listeners are told once at the end.
    for (let at = 0; at < changes.length; at += MERGED_AT_ONCE) {
      this.apply(changes.slice(at, at + MERGED_AT_ONCE), this.items as Item[]);
      await nextTurn();
    }
    this.items = [...this.items];
    this.tell(null);
    // The act can be undone once it is complete.
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

  /** False in a tab that only looks on, and until all items are read. */
  get mayWrite(): boolean {
    return this.works && !this.reading;
  }

  /** Calls a listener after every change of items, with the changes, or with null if all items may have changed. */
  onChange(listener: ChangeListener): void {
    this.listeners.add(listener);
  }

  private tell(changes: readonly ItemChange[] | null): void {
    this.isUntold = false;
    for (const listener of this.listeners) listener(changes);
  }

  /** The index of an item. Usually it follows the item that was looked for before. */
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

  /** Performs a named act of the curator, which can be undone. */
  act(label: string, items: readonly Item[], change: (item: Item) => Item | null): void {
    if (!this.mayWrite) return;
    const changes: Change[] = [];
    let place: number | undefined;
    for (const { id } of items) {
      // The current item: the list of the caller may be a moment old.
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

  /** Applies changes that are not acts of the curator, such as those of a take-in. They cannot be undone. */
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
   * Applies changes to a list and marks the records to be written. Removed items stay in the list.
   * @param done receives the changes, if listeners are told
   * @returns the removed items
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

  /** Everything that is stored beside the items. */
  headParts(): HeadParts {
    const { sources, arrivals, players, bases, folderKinds, feeds, watched, lists, views } = this;
    const { plays, marks, presets, recipes, references } = this;
    const lately = { lists, plays, marks, views, presets, recipes, references };
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
    this.references = parts.references;
  }

  setFeeds(feeds: readonly Feed[]): void {
    this.changePart('feeds', feeds);
  }

  setWatched(watched: readonly WatchedTree[], lists: readonly PlayList[] = this.lists): void {
    this.changePart('watched', watched);
    if (lists !== this.lists) this.setLists(lists);
  }

  /** Sets the lists. This is not an act of the curator. */
  setLists(lists: readonly PlayList[]): void {
    if (!this.mayWrite) return;
    const before = new Set(this.lists);
    for (const list of lists) if (!before.has(list)) this.records.mark(`list ${list.id}`);
    this.changePart('lists', lists);
  }

  /** Stores the kind of a folder, in place of an earlier one from the same origin. Null removes it. */
  setFolderKind(source: SourceId, folder: string, by: FolderKind['by'], kind: Kind | null): void {
    const rest = this.folderKinds.filter(
      (one) => one.by !== by || one.source !== source || one.folder !== folder,
    );
    this.changePart('folderKinds', kind === null ? rest : [...rest, { source, folder, by, kind }]);
  }

  /** A player as stored, or a new one if nothing was decided for it yet. */
  playerOf(id: PlayerId, rulebook: string): Player {
    return this.players.find((player) => player.id === id) ?? newPlayer(id, rulebook);
  }

  /** Removes a player with everything known about its files. A player that ships with the application is only hidden. */
  removePlayer(player: Player, comesAlong: boolean): void {
    const label = `Remove player ${player.name ?? player.id}`;
    if (comesAlong) this.setPlayer({ ...player, off: true }, label);
    else this.actOnPart({ part: 'players', key: player.id, before: player, after: null }, label);
  }

  setChoices(player: Player, { id }: Target, choices: PlayerChoices, label?: string): void {
    this.setPlayer(withChoices(player, id, choices), label);
  }

  /** Stores a player. @param label the name of the act; without one, the change cannot be undone */
  setPlayer(player: Player, label?: string): void {
    const before = this.players.find(({ id }) => id === player.id) ?? null;
    this.actOnPart({ part: 'players', key: player.id, before, after: player }, label);
  }

  /** Stores a view in place of the one with its id. */
  keepView(view: SavedView): void {
    const before = this.views.find(({ id }) => id === view.id) ?? null;
    this.actOnPart({ part: 'views', key: view.id, before, after: view }, `View ${view.name}`);
  }

  forgetView(view: SavedView): void {
    this.actOnPart({ part: 'views', key: view.id, before: view, after: null }, `Forget view ${view.name}`);
  }

  /** Stores a preset in place of the one with its id. */
  keepPreset(preset: Preset): void {
    const before = this.presets.find(({ id }) => id === preset.id) ?? null;
    this.actOnPart({ part: 'presets', key: preset.id, before, after: preset }, `Preset ${preset.name}`);
  }

  /** Stores a recipe in place of the one with its id. */
  keepRecipe(recipe: NamedRecipe): void {
    const before = this.recipes.find(({ id }) => id === recipe.id) ?? null;
    this.actOnPart({ part: 'recipes', key: recipe.id, before, after: recipe }, `Recipe ${recipe.name}`);
  }

  forgetRecipe(recipe: NamedRecipe): void {
    const change = { part: 'recipes', key: recipe.id, before: recipe, after: null } as const;
    this.actOnPart(change, `Forget recipe ${recipe.name}`);
  }

  /** Stores a track list of the curator's own in place of the one with its id. */
  keepReference(reference: OwnReference): void {
    const before = this.references.find(({ id }) => id === reference.id) ?? null;
    this.actOnPart(
      { part: 'references', key: reference.id, before, after: reference },
      `Track list ${reference.title}`,
    );
  }

  forgetReference(reference: OwnReference): void {
    const change = { part: 'references', key: reference.id, before: reference, after: null } as const;
    this.actOnPart(change, `Delete track list ${reference.title}`);
  }

  /** Stores a list in place of the one with its id. @param label the name of the act */
  keepList(list: PlayList, label: string): void {
    const before = this.lists.find(({ id }) => id === list.id) ?? null;
    if (before !== list) this.actOnPart({ part: 'lists', key: list.id, before, after: list }, label);
  }

  forgetList(list: PlayList): void {
    this.actOnPart({ part: 'lists', key: list.id, before: list, after: null }, `Delete list ${list.name}`);
  }

  /** Stores the queue, in the working tab. */
  keepQueue(queue: KeptQueue): void {
    if (!this.mayWrite) return;
    const isSame = queue.suites === this.queue?.suites;
    this.queue = queue;
    this.records.markQueue(isSame);
  }

  /** Counts a play to the end, and marks the item in the list it was played from. Not an act of the curator. */
  notePlayed(item: ItemId, list: ListId | null): void {
    const play = this.plays.find((one) => one.item === item) ?? null;
    this.actOnPart({ part: 'plays', key: item, before: play, after: playedAgain(play, item, Date.now()) });
    if (list === null) return;
    const marks = this.marks.find((one) => one.list === list) ?? null;
    const after = marked(marks ?? { list, items: [] }, [item]);
    if (after !== marks) this.actOnPart({ part: 'marks', key: list, before: marks, after });
  }

  /** Clears the played marks of some or all items of a list. @param label the name of the act; without one, no undo */
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

  /** What our runs left at a target, as far as we know. */
  baseOf(id: TargetId): readonly PlacedFile[] {
    return this.bases.find(({ target }) => target === id)?.placed ?? NOTHING;
  }

  setBase(target: TargetId, placed: readonly PlacedFile[]): void {
    if (!this.mayWrite) return;
    this.bases = [...this.bases.filter((base) => base.target !== target), { target, placed }];
    this.records.mark(`base ${target}`);
  }

  /** Changes something that is stored beside the items, in the working tab. */
  private changePart<P extends HeadPart>(part: P, entries: HeadParts[P]): void {
    if (!this.mayWrite) return;
    this.setParts({ ...this.headParts(), [part]: entries });
    this.records.mark(`part ${part}`);
  }

  /** Set during a take-in, so that records are not written again and again. */
  setBusy(busy: boolean): void {
    this.records.busy = busy;
  }

  /** Changes with every change of the library. */
  get stamp(): string {
    return this.records.stamp;
  }

  /** The stamp, if the browser has stored exactly this state; else null. */
  get restingAs(): string | null {
    return this.reading ? null : this.records.restingAs;
  }

  /** Waits until everything is stored. If the browser refuses, `keepFailure` says why. */
  async flush(): Promise<void> {
    if (this.mayWrite) await this.records.flush();
  }

  /** Migrates what an earlier version stored, in the working tab. A tab that takes over calls it then. */
  keepAsNow(): Promise<void> {
    return this.records.keepAsNow();
  }

  /** Whether the browser storage will have everything once pending records are written. */
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

  /** Reads the stored records in short steps. */
  private async setChunks(chunks: readonly (readonly Item[])[]): Promise<void> {
    const items: Item[] = [];
    this.places = new Map();
    this.records.clear();
    for (const [index, chunk] of chunks.entries()) {
      const ids: ItemId[] = [];
      for (const item of chunk) {
        const place = this.places.get(item.id);
        // Earlier versions stored some items twice.
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
