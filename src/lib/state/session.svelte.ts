import { columns } from './columns.svelte';
import { getContext, setContext } from 'svelte';
import { Tally, inScope, type Counts, type Scope } from '$lib/core/browse';
import type { Arrival, Item, ItemId } from '$lib/core/items';
import type { PlayerId } from '$lib/core/library';
import type { Remedy } from '$lib/core/plan';
import { asksWorld } from '$lib/core/query';
import { countGaps, type Rulebook } from '$lib/core/rulebooks';
import { openItem } from '$lib/io/take-in/open-item';
import { createParsePool, type ParsePool } from '$lib/workers/parse-pool';
import { noteDoubles } from './find-doubles';
import { FolderAccess } from './folder-access.svelte';
import { Following } from './following';
import { IdentifyDesk } from './identify/identify-desk';
import { Intake } from './intake.svelte';
import { lasting, type Lasting } from './lasting.svelte';
import { Library } from './library.svelte';
import { KindDesk } from './kind-desk';
import { KnownValues } from './known-values.svelte';
import { LibraryMirror } from './library-mirror';
import { LevelsDesk } from './levels';
import { ListDesk } from './lists/list-desk.svelte';
import { Listening } from './listening.svelte';
import { LoudnessDesk } from './loudness-desk.svelte';
import { PictureDesk } from './picture-desk';
import type { PlayerDesk } from './player/desk.svelte';
import { Playback } from './playback.svelte';
import { Assembling } from './prepare/assembling.svelte';
import { PrepareDesk } from './prepare/prepare-desk.svelte';
import { Players } from './player/players.svelte';
import { NONE, ScopeState, LedgerSelection } from './scope.svelte';
import { TabLock } from './tab-lock.svelte';
import { Work, type Job } from './work.svelte';

export type Surface = 'values' | 'many' | 'words' | 'chapters' | 'pictures' | 'originals' | 'editions';

/** Everything that the screens of one open library share. */
export class Session {
  readonly library: Library;
  readonly work = new Work();
  readonly scope: ScopeState;
  /** What the library has of what queries name. */
  readonly values: KnownValues;
  readonly selection: LedgerSelection;
  readonly intake: Intake;
  readonly assembling: Assembling;
  readonly listening: Listening;
  readonly loudness: LoudnessDesk;
  readonly playback: Playback;
  readonly levels: LevelsDesk;
  readonly identify: IdentifyDesk;
  readonly players: Players;
  readonly prepare: PrepareDesk;
  readonly lists: ListDesk;
  readonly kinds: KindDesk;
  readonly pictures: PictureDesk;
  readonly folders: FolderAccess;
  readonly lock: TabLock;
  /** `failed` says why in `trouble`. */
  phase = $state<'opening' | 'open' | 'failed'>('opening');
  trouble = $state('');
  /** The panel that replaces the ledger of Describe for a while. */
  surface = $state<Surface | null>(null);
  /** Set while the board shows something that is not in the library yet, such as a disc. The card is empty then. */
  aside = $state(false);
  /** The selection is being dragged: Lists accepts it. */
  dragging = $state(false);
  /** For each item that sounds like another one: the name of that one, after a check. */
  doubles = $state.raw<ReadonlyMap<ItemId, string>>(new Map());
  private readonly parts = new Map<string, Lasting<unknown>>();
  private pool: ParsePool | null = null;
  private readonly mirror: LibraryMirror;
  private recount: () => void = () => {};
  private countedBy = '';
  /** Players were looked at since the library was opened. */
  private hasPlayers = false;
  private gaps: { readonly of: Rulebook | null; readonly count: (item: Item) => number } = {
    of: null,
    count: () => 0,
  };

  /** Counts over the whole library. */
  counts = $state.raw<Counts>(NONE);
  /** Items that need a twin, player by player. */
  readonly toMake: number = $derived.by(() =>
    this.players.list.reduce((sum, { rehearsal }) => sum + (rehearsal.plan?.heldBy.twin ?? 0), 0),
  );
  readonly splits: number = $derived.by(() => this.desk.rehearsal.plan?.splits.count ?? 0);

  constructor(readonly name: string) {
    this.library = new Library(name);
    this.selection = new LedgerSelection(this.library);
    this.listening = new Listening((item) => this.openFile(item), this.work);
    this.playback = new Playback({
      openFile: (item) => this.listening.playable(item),
      find: (id) => this.library.find(id),
      heard: ({ id }, from) => this.library.notePlayed(id, from),
      queueChanged: (queue) => this.library.keepQueue(queue),
    });
    this.levels = new LevelsDesk(this.library.storage, (item) => this.openFile(item), this.work);
    this.mirror = new LibraryMirror(this.library);
    this.identify = new IdentifyDesk(this.library, this.work, this.listening, this.mirror);
    this.players = new Players(
      this.library,
      this.work,
      this.mirror,
      () => this.intake,
      () => this.lists.look(),
    );
    this.lists = new ListDesk(this.library, this.mirror, this.players);
    this.scope = new ScopeState(
      this.library,
      (item) => this.gapsOf(item),
      () => this.lists.world,
      () => columns.list.map(({ key }) => key),
    );
    this.values = new KnownValues(this.library);
    this.prepare = new PrepareDesk(
      this.library,
      this.mirror,
      (item) => this.openFile(item),
      this.work,
      this.players,
      this.scope,
      (ids) => this.lists.itemsOf(ids),
    );
    this.follow();
    this.loudness = new LoudnessDesk(this.library, this.listening, this.work);
    this.kinds = new KindDesk(this.library, this.work, this.listening);
    this.folders = new FolderAccess(this.library, async () => {
      const { WatchDesk } = await import('./sources/watch-desk.svelte');
      await this.part('watch', () => new WatchDesk(this)).start();
      await this.followOriginals();
    });
    this.pictures = new PictureDesk(
      this.library,
      (item) => this.openFile(item),
      () => this.parsePool(),
      () => this.desk.rulebook,
    );
    this.intake = new Intake(
      this.library,
      () => this.parsePool(),
      this.work,
      (ids) => {
        void this.kinds.listenWhereOpen(ids);
        noteDoubles(this.library, this.work, ids).catch((error: unknown) =>
          this.work.say(`Files were not compared: ${String(error)}`, true),
        );
      },
      (file) => this.pictures.keep(file, null),
      (file, path) => this.lists.readFound(file, path),
    );
    this.assembling = new Assembling(
      this.library,
      this.intake,
      (item) => this.openFile(item),
      this.work,
      this.pictures,
    );
    this.lock = new TabLock(name, () => this.look());
  }

  /** Keeps the counts up to date by changes; counts everything when a library is opened. */
  private follow(): void {
    const gapsOf = (item: Item) => this.gapsOf(item);
    let tally = new Tally(gapsOf);
    const following = new Following(
      (changes) => tally.change(changes),
      () => (this.counts = tally.counts()),
    );
    this.recount = () => {
      tally = new Tally(gapsOf);
      const { items } = this.library;
      following.rebuild(tally.build(items), items.length);
    };
    this.library.onChange((changes) => (changes ? following.change(changes) : this.recount()));
  }

  /** The chosen player. Gaps and splits are counted for it. */
  get desk(): PlayerDesk {
    return this.players.chosen;
  }

  /** Chooses another player, and counts gaps for it. */
  choosePlayer(id: PlayerId): void {
    if (id === this.desk.id) return;
    this.players.choose(id);
    this.followRulebook();
  }

  /** Counts gaps again if the chosen player or what its rulebook asks for has changed. */
  followRulebook(): void {
    // Every decision makes a new rulebook object, which usually asks for the same fields.
    const asked = JSON.stringify(this.desk.rulebook.places);
    if (asked === this.countedBy) return;
    this.countedBy = asked;
    this.recount();
    this.scope.recount();
  }

  private gapsOf(item: Item): number {
    const { rulebook } = this.desk;
    if (rulebook !== this.gaps.of) this.gaps = { of: rulebook, count: countGaps(rulebook) };
    return this.gaps.count(item);
  }

  /** Opens the library from the browser's storage. */
  async open(): Promise<void> {
    try {
      await this.lock.ask();
      this.library.works = this.lock.state === 'working';
      await this.readLibrary();
      await this.folders.check();
      const queue = await this.library.storage.head.findQueue();
      if (queue) this.playback.restore(queue);
      this.phase = 'open';
      void this.followOriginals();
      // Asks the browser not to delete the data when the disk runs low. A refusal changes nothing else.
      void navigator.storage?.persist?.();
      // Looking for the files of twins takes a while. Plans go by the records of twins.
      this.openTwins();
      await this.openPlayers();
    } catch (error) {
      this.trouble = error instanceof Error ? error.message : String(error);
      this.phase = 'failed';
    }
  }

  /**
   * Opens the players once there is something to plan, or once the Players board is open. The worker that plans is the
   * largest one, and an empty library does not need it.
   */
  async openPlayers(): Promise<void> {
    const { library, scope } = this;
    const isNeeded = library.items.length > 0 || library.bases.length > 0 || scope.board === 'players';
    if (this.hasPlayers || !isNeeded) return;
    this.hasPlayers = true;
    await this.players.open();
  }

  /** Plans again and groups files again, soon after an edit. */
  followEdits(): void {
    if (!this.hasPlayers) void this.openPlayers();
    else this.players.planSoon();
    const { sets } = this.identify;
    if (this.library.items.length > 0 || sets.gatherings.length > 0) sets.gatherSoon();
  }

  /** Follows up a run into originals that was interrupted by closing the page. */
  private async followOriginals(): Promise<void> {
    const runs = await this.library.storage.originals.list();
    if (!this.library.mayWrite || runs.every(({ isFollowed }) => isFollowed)) return;
    const { originalsOf } = await import('./originals-desk.svelte');
    await originalsOf(this).open();
  }

  /** Reads the library. Of a large one, the first rows are shown before the rest is read. */
  private async readLibrary(): Promise<void> {
    const { library } = this;
    let job: Job | null = null;
    try {
      const asKept = await library.load(() => {
        job = this.work.start(`Open ${library.expected.toLocaleString('en')} items`, null, null);
        if (library.works) this.mirror.begin();
      });
      this.mirror.opened(asKept);
    } finally {
      (job as Job | null)?.end();
    }
  }

  /** Makes this tab the working one; the other tab only looks on. */
  async takeOver(): Promise<void> {
    await this.lock.ask(true);
    await this.library.load();
    this.library.works = this.lock.state === 'working';
    await this.library.keepAsNow();
    this.openTwins();
    this.hasPlayers = true;
    await this.players.open();
  }

  private openTwins(): void {
    this.prepare
      .open()
      .catch((error: unknown) => this.work.say(`Twins could not be read: ${String(error)}`, true));
  }

  close(): void {
    this.lock.end();
    this.pool?.end();
    this.mirror.end();
    this.players.end();
    this.prepare.end();
    this.identify.end();
    this.lists.end();
    this.scope.end();
    this.listening.end();
    this.levels.end();
    this.pictures.end();
    for (const part of this.parts.values()) {
      (part.value as { end?: () => void }).end?.();
      part.end();
    }
  }

  parsePool(): ParsePool {
    this.pool ??= createParsePool();
    return this.pool;
  }

  /** The file of an item. @throws {OpenError} if it cannot be opened */
  openFile(item: Item): Promise<Blob> {
    return openItem(this.library.storage, item.source, item.path);
  }

  /** Changes the scope. Selected items that are not in it are deselected. */
  narrow(scope: Scope): void {
    this.scope.narrow(scope);
    this.lists.hold(this.scope.query);
    const { items, cursor } = this.selection;
    const kept = inScope(items, scope, this.lists.world);
    if (kept.length < items.length)
      this.selection.set(
        kept.map(({ id }) => id),
        cursor,
      );
  }

  /** Called when lists, players or arrivals changed: queries that mention them are evaluated again. */
  followWorld(): void {
    const { scope, lists } = this;
    lists.lookSoon();
    // A list that was missing may exist now.
    if (asksWorld(scope.query) || scope.problem?.code === 'noSuchList') this.narrow(scope.scope);
  }

  /** Takes an arrival back: its items leave the library, and the files stay where they are. */
  takeBack(arrival: Arrival): void {
    const items = this.library.items.filter((item) => item.arrival === arrival.id);
    this.library.act(`Take-in of ${arrival.label}`, items, () => null);
    if (arrival.unread.length > 0) this.library.addArrival({ ...arrival, unread: [] });
    this.selection.set([]);
    this.work.say(`${arrival.label} taken back: ${items.length} left the library`);
  }

  /** A part of the session that is created when it is first needed and lives as long as the session. */
  part<T>(key: string, make: () => T): T {
    let part = this.parts.get(key);
    if (!part) this.parts.set(key, (part = lasting(make)));
    return part.value as T;
  }

  forget(items: readonly Item[]): void {
    this.library.act(`Forget ${items.length}`, items, () => null);
    this.selection.set([]);
  }

  undo(): void {
    const act = this.library.undo();
    if (act) this.work.say(`Undone: ${act.label}`);
  }

  redo(): void {
    const act = this.library.redo();
    if (act) this.work.say(`Redone: ${act.label}`);
  }

  /** Applies the remedy of a finding. @returns items that have to be described by hand; null if there are none */
  async mend(remedy: Remedy, label: string): Promise<readonly ItemId[] | null> {
    if (remedy.type === 'describe' || remedy.type === 'identify') return remedy.items;
    if (remedy.type === 'makeTwins') this.makeTwins(remedy.items);
    else if (remedy.type === 'squarePicture') await this.pictures.square(remedy.items, label);
    else this.desk.decisions.mend(remedy, label);
    return null;
  }

  /** Queues twins of items for the chosen player. */
  private makeTwins(ids: readonly ItemId[]): void {
    this.prepare.making.add(this.prepare.makingFor(this.library.findAll(ids), this.desk).wanted);
  }

  /** Another tab took over: jobs here are cancelled and nothing is stored any more. */
  private look(): void {
    this.library.works = false;
    for (const { cancel } of this.work.jobs) cancel?.();
  }
}

const KEY = Symbol('session');

export const provideSession = (session: Session): Session => setContext(KEY, session);
export const getSession = (): Session => getContext<Session>(KEY);
