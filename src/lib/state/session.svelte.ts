import { getContext, setContext } from 'svelte';
import { Tally, inScope, type Counts, type Scope } from '$lib/core/browse';
import {
  editContent,
  kindOf,
  waits,
  type Arrival,
  type Item,
  type ItemId,
  type PictureId,
  type SourceId,
} from '$lib/core/items';
import { folderOf, isBelow } from '$lib/core/paths';
import { countGaps, picturesFor } from '$lib/core/rulebooks';
import { KIND_FACTS, type Kind } from '$lib/core/kinds';
import type { Remedy } from '$lib/core/plan';
import { newId } from '$lib/io/new-id';
import { toJpeg } from '$lib/io/pictures';
import { askToRead, mayRead, openItem } from '$lib/io/take-in/open-item';
import { createParsePool, type ParsePool } from '$lib/workers/parse-pool';
import { Following } from './following';
import { guessAround } from './guess-around';
import { IdentifyDesk } from './identify/identify-desk';
import { Intake } from './intake.svelte';
import { Library } from './library.svelte';
import { LibraryMirror } from './library-mirror';
import { Listening } from './listening.svelte';
import { PlayerDesk } from './player-desk.svelte';
import { NONE, ScopeState, Selection } from './scope.svelte';
import { TabLock } from './tab-lock.svelte';
import { Work } from './work.svelte';

/** Files of one take-in that are listened to unasked. */
const MOST_HEARD = 24;

/** Everything one open library needs on screen. */
export class Session {
  readonly library: Library;
  readonly work = new Work();
  readonly scope: ScopeState;
  readonly selection: Selection;
  readonly intake: Intake;
  readonly listening: Listening;
  readonly identify: IdentifyDesk;
  readonly desk: PlayerDesk;
  readonly lock: TabLock;
  /** `failed` says why in `trouble`. */
  phase = $state<'opening' | 'open' | 'failed'>('opening');
  trouble = $state('');
  /** Folders whose permission ended with the last visit. */
  shutFolders = $state.raw<readonly { label: string; handle: FileSystemDirectoryHandle }[]>([]);
  /** Set while the board shows what is no item of the library yet: there is nothing for the card to be about. */
  aside = $state(false);
  /** What other items sound like, by item, once a check has told. */
  doubles = $state.raw<ReadonlyMap<ItemId, string>>(new Map());
  private readonly parts = new Map<string, unknown>();
  private pool: ParsePool | null = null;
  private readonly mirror: LibraryMirror;

  /** Counts over the whole library. */
  counts = $state.raw<Counts>(NONE);
  readonly splits: number = $derived.by(() => this.desk.plan?.splits.count ?? 0);

  constructor(readonly name: string) {
    this.library = new Library(name);
    this.selection = new Selection(this.library);
    this.listening = new Listening((item) => this.openFile(item), this.work);
    this.mirror = new LibraryMirror(this.library);
    this.identify = new IdentifyDesk(this.library, this.work, this.listening, this.mirror);
    this.desk = new PlayerDesk(this.library, this.work, this.mirror);
    this.scope = new ScopeState(this.library, countGaps(this.desk.rulebook));
    this.follow();
    this.intake = new Intake(
      this.library,
      () => this.parsePool(),
      this.work,
      (ids) => void this.listenWhereOpen(ids),
    );
    this.lock = new TabLock(name, () => this.look());
  }

  /** Counts on from what changed; a library that was opened is counted anew. */
  private follow(): void {
    const gapsOf = countGaps(this.desk.rulebook);
    let tally = new Tally(gapsOf);
    const following = new Following(
      (changes) => tally.change(changes),
      () => (this.counts = tally.counts()),
    );
    this.library.onChange((changes) => {
      if (changes) return following.change(changes);
      tally = new Tally(gapsOf);
      following.build(tally.build(this.library.items));
    });
  }

  /** Opens the library from the browser's storage. */
  async open(): Promise<void> {
    try {
      await this.lock.ask();
      this.library.mayWrite = this.lock.state === 'working';
      await this.library.load();
      await this.checkFolders();
      this.phase = 'open';
      // Kept data must not be thrown away when the disk runs low; a refusal changes nothing else.
      void navigator.storage?.persist?.();
      await this.desk.open();
    } catch (error) {
      this.trouble = error instanceof Error ? error.message : String(error);
      this.phase = 'failed';
    }
  }

  /** Makes this tab the one that works; the other becomes a looker-on. */
  async takeOver(): Promise<void> {
    await this.lock.ask(true);
    await this.library.load();
    this.library.mayWrite = this.lock.state === 'working';
    await this.desk.open();
  }

  close(): void {
    this.lock.end();
    this.pool?.end();
    this.mirror.end();
    this.desk.end();
    this.identify.end();
    this.listening.end();
    for (const part of this.parts.values()) (part as { end?: () => void }).end?.();
  }

  parsePool(): ParsePool {
    this.pool ??= createParsePool();
    return this.pool;
  }

  /** The bytes of an item's file. @throws {OpenError} when they cannot be had */
  openFile(item: Item): Promise<Blob> {
    return openItem(this.library.storage, item.source, item.path);
  }

  /** The picture that stands for an item, or null. */
  async pictureOf(item: Item, index: number): Promise<Blob | null> {
    const chosen = item.edits.pictures?.front;
    if (chosen) return this.library.storage.findPicture(chosen.id);
    return this.parsePool().picture(await this.openFile(item), index);
  }

  /** Sets a picture for items. @throws {PictureError} when the browser cannot show it */
  async setPicture(
    items: readonly Item[],
    file: Blob,
    square: { least: number } | null,
    label: string,
  ): Promise<void> {
    const { blob, mime, width, height } = await toJpeg(file, square);
    const id = newId() as PictureId;
    await this.library.storage.keepPicture(id, blob);
    const front = { id, mime, bytes: blob.size, width, height };
    this.library.act(label, items, (item) => editContent(item, { pictures: { front } }));
  }

  /** Looks at other items of the library. What is selected and not among them is let go. */
  narrow(scope: Scope): void {
    this.scope.narrow(scope);
    const { items, cursor } = this.selection;
    const kept = inScope(items, scope);
    if (kept.length < items.length)
      this.selection.set(
        kept.map(({ id }) => id),
        cursor,
      );
  }

  confirm(items: readonly Item[]): void {
    const waiting = items.filter((item) => item.settled === null && item.guess.kind !== null);
    if (waiting.length > 0)
      this.library.settle(`Confirm ${waiting.length}`, waiting, (item) => item.guess.kind);
  }

  /** Confirms every kind that is likely among these. */
  confirmLikely(items: readonly Item[]): void {
    this.confirm(items.filter((item) => waits(item) && item.guess.certainty === 'likely'));
  }

  /** Settles a kind; where that corrects a guess, others of the folder are guessed with it in mind. */
  settle(items: readonly Item[], kind: Kind): void {
    this.library.settle(`Kind of ${items.length}`, items, () => kind);
    const corrected = items.filter(({ guess }) => guess.kind !== kind);
    if (corrected.length === 0) return;
    const folders = new Set(corrected.map(({ source, path }) => `${source}\n${folderOf(path)}`));
    for (const place of folders) {
      const [source = '', folder = ''] = place.split('\n');
      this.library.setFolderKind(source as SourceId, folder, 'correction', kind);
    }
    void this.guessAgain(
      this.library.items.filter(
        (item) => item.settled === null && folders.has(`${item.source}\n${folderOf(item.path)}`),
      ),
    );
  }

  /** Sets what the folder of an item holds, by rule, for what is there unsettled and what will come. Null ends it. */
  setFolderRule(item: Item, kind: Kind | null): void {
    const folder = folderOf(item.path);
    this.library.setFolderKind(item.source, folder, 'rule', kind);
    void this.guessAgain(
      this.library.items.filter(
        ({ source, path, settled }) => settled === null && source === item.source && isBelow(path, folder),
      ),
    );
    this.work.say(
      kind === null
        ? `No rule for ${folder || 'the root'} any more`
        : `By rule, ${folder || 'the root'} holds ${KIND_FACTS[kind].many}`,
    );
  }

  /**
   * Listens to sound whose kind all other evidence leaves open: what is spoken is no song. It goes on in the
   * background, for a few files at most; a check listens to the others.
   */
  private async listenWhereOpen(ids: readonly ItemId[]): Promise<void> {
    const open = this.library
      .findAll(ids)
      .filter(
        ({ settled, guess, facts }) =>
          settled === null &&
          (guess.certainty === 'open' || guess.certainty === 'guess') &&
          facts.streams.every(({ type }) => type === 'sound'),
      )
      .slice(0, MOST_HEARD);
    const speech = new Map<ItemId, number | null>();
    for (const item of open) {
      const heard = await this.listening.hear(item);
      if (heard.type === 'heard') speech.set(item.id, heard.listened.speech);
    }
    if (speech.size > 0) this.library.put(await guessAround(this.library, speech.keys(), speech));
  }

  private async guessAgain(items: readonly Item[]): Promise<void> {
    this.library.put(
      await guessAround(
        this.library,
        items.map(({ id }) => id),
      ),
    );
  }

  /** Takes an arrival back: its items leave the library, files and what is kept of them stay where they are. */
  takeBack(arrival: Arrival): void {
    const items = this.library.items.filter((item) => item.arrival === arrival.id);
    this.library.act(`Take-in of ${arrival.label}`, items, () => null);
    if (arrival.unread.length > 0) this.library.addArrival({ ...arrival, unread: [] });
    this.selection.set([]);
    this.work.say(`${arrival.label} taken back: ${items.length} left the library`);
  }

  /** A part of the session that is made when it is first asked for, and stays. */
  part<T>(key: string, make: () => T): T {
    if (!this.parts.has(key)) this.parts.set(key, make());
    return this.parts.get(key) as T;
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
    if (act) this.work.say(`Done again: ${act.label}`);
  }

  /** Applies what a finding offers. Answers with items to be described by hand, where it comes to that. */
  async mend(remedy: Remedy, label: string): Promise<readonly ItemId[] | null> {
    if (remedy.type === 'describe') return remedy.items;
    if (remedy.type === 'squarePicture') await this.squarePictures(remedy.items, label);
    else this.desk.mend(remedy, label);
    return null;
  }

  private async squarePictures(ids: readonly ItemId[], label: string): Promise<void> {
    const items = this.library.findAll(ids);
    const first = items[0];
    const own = first && (await this.pictureOf(first, 0));
    const kind = first && kindOf(first);
    const asked = kind ? picturesFor(this.desk.rulebook, kind) : [];
    const least = Math.max(500, ...asked.map(({ minPixels }) => minPixels));
    if (own) await this.setPicture(items, own, { least }, label);
  }

  /** Asks for every folder again whose permission has ended; must follow a click. */
  async reopenFolders(): Promise<void> {
    for (const { handle } of this.shutFolders) await askToRead(handle);
    await this.checkFolders();
    const { WatchDesk } = await import('./sources/watch-desk.svelte');
    await this.part('watch', () => new WatchDesk(this)).start();
  }

  private async checkFolders(): Promise<void> {
    const shut: { label: string; handle: FileSystemDirectoryHandle }[] = [];
    for (const source of this.library.sources) {
      const handle = source.type === 'folder' ? await this.library.storage.findHandle(source.id) : null;
      if (handle && !(await mayRead(handle))) shut.push({ label: source.label, handle });
    }
    this.shutFolders = shut;
  }

  /** Another tab took the library over: what goes on here comes to its end, and nothing is kept any more. */
  private look(): void {
    this.library.mayWrite = false;
    for (const { cancel } of this.work.jobs) cancel?.();
  }
}

const KEY = Symbol('session');

export const provideSession = (session: Session): Session => setContext(KEY, session);
export const getSession = (): Session => getContext<Session>(KEY);
