import {
  saidOf,
  sameOriginal,
  sameSaid,
  saysAnything,
  type HeadParts,
  type PlayerId,
  type TargetId,
} from '$lib/core/library';
import type { Item, ItemId, SourceId } from '$lib/core/items';
import type { ListId } from '$lib/core/lists';
import type { PlacedFile } from '$lib/core/plan';
import {
  CHUNK_ITEMS,
  FIRST_CHUNKS,
  HEAD_PARTS,
  SAID_ITEMS,
  isLarge,
  type HeadPart,
  type KeptLibrary,
  type LibraryStorage,
} from '$lib/io/storage';
import { newId } from '$lib/io/new-id';
import type { KeptQueue } from './playback.svelte';
import { WriteBehind } from './write-behind';

/** Where the handle of a player's folder is kept. */
export const placeKey = (player: PlayerId): SourceId => `place-folder.${player}` as SourceId;

type Kept =
  | `items ${number}`
  | `said ${number}`
  | `base ${string}`
  | `list ${string}`
  | `part ${HeadPart}`
  | 'queue'
  | 'queue place'
  | 'first'
  | 'head';

/** What the records are made of. */
export interface Recorded {
  readonly items: readonly Item[];
  readonly players: HeadParts['players'];
  readonly bases: HeadParts['bases'];
  readonly lists: HeadParts['lists'];
  /** What is played; null where nothing was. */
  readonly queue: KeptQueue | null;
  readonly mayWrite: boolean;
  /** Set while the browser refuses to keep something. */
  keepFailure: string | null;
  /** Set when what the browser had kept was deleted while the library was open. */
  isStorageLost: boolean;
  find(id: ItemId): Item | null;
  findAll(ids: Iterable<ItemId>): Item[];
  headParts(): HeadParts;
  baseOf(target: TargetId): readonly PlacedFile[];
}

/** Which record of the browser's storage has what of a library, and which of them are to be written. */
export class LibraryRecords {
  private chunkOf = new Map<ItemId, number>();
  /** Items of each record in the browser's storage, those forgotten since included. */
  private chunks: ItemId[][] = [];
  private saidIn = new Map<ItemId, number>();
  /** Items of each record of edits, those that nothing is said of any more included. */
  private saidRecords: ItemId[][] = [];
  /** Which of them are those of the first items of a large library is not kept yet as it is. */
  private firstAreOthers = false;
  /** What is said of items is kept apart from them; not yet where an earlier version kept it with them. */
  private apart = true;
  /** So are the parts beside the items from each other. */
  private partsApart = true;
  private headIsOld = false;
  /** The browser tells when what is kept is deleted. */
  private isWatched = false;
  /** Records of items, and of what is said, that changes are to be kept in and that are not marked yet. */
  private readonly touched = new Set<number>();
  private readonly touchedSaid = new Set<number>();
  private readonly behind: WriteBehind<Kept>;
  /** Names the library as it is: another one with every change. */
  private current = newId();
  private keptStamp: string | null = null;

  constructor(
    private readonly storage: LibraryStorage,
    private readonly library: Recorded,
  ) {
    this.behind = new WriteBehind(
      (key) => this.keep(key),
      (error) => this.fail(error),
      () => {
        library.keepFailure = null;
      },
    );
  }

  /** Forgets which records there are, before those of the browser are taken over. */
  clear(): void {
    this.chunkOf = new Map();
    this.chunks = [];
  }

  /** Takes the next record of items over, with those that stand in it. */
  add(ids: ItemId[]): void {
    for (const id of ids) this.chunkOf.set(id, this.chunks.length);
    this.chunks.push(ids);
  }

  /** Takes over how all else was kept, once the items are there, and brings it to this version. */
  async takeOver({ said, saidOfFirst, isOld, headIsOld, partsApart }: KeptLibrary): Promise<void> {
    this.saidRecords = said.map((record) => [...record]);
    this.saidIn = new Map(said.flatMap((record, index) => record.map((id) => [id, index] as const)));
    this.apart = !isOld;
    this.partsApart = partsApart;
    this.headIsOld = headIsOld;
    const known = new Set(saidOfFirst);
    this.firstAreOthers =
      isLarge(this.chunks.length) &&
      (saidOfFirst === null || this.saidOfFirst().some((record) => !known.has(record)));
    this.keptStamp = await this.storage.head.findStamp();
    if (this.keptStamp !== null) this.watch();
    this.current = this.keptStamp ?? newId();
    await this.keepAsNow();
  }

  /** What is played is kept soon: the library is the same one with it. @param place only which entry of it is heard */
  markQueue(place: boolean): void {
    if (!place) this.behind.mark('queue');
    this.behind.mark('queue place');
  }

  /** Finds a record for an item that is new. */
  assign(id: ItemId): void {
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
  note(id: ItemId, before: Item | null, after: Item | null): void {
    if (!(before && after && sameOriginal(before, after))) {
      const chunk = this.chunkOf.get(id);
      if (chunk !== undefined) this.touched.add(chunk);
    }
    if (before && after && sameSaid(before, after)) return;
    const record = this.saidRecordOf(id, after !== null && saysAnything(after));
    if (record !== null) this.touchedSaid.add(record);
  }

  /** Marks what was noted: changes of one act are one. */
  markNoted(): void {
    const { touched, touchedSaid } = this;
    this.mark(
      ...Array.from(touched, (record) => `items ${record}` as const),
      ...Array.from(touchedSaid, (record) => `said ${record}` as const),
    );
    touched.clear();
    touchedSaid.clear();
  }

  mark(...keys: readonly Kept[]): void {
    this.current = newId();
    for (const key of keys) this.behind.mark(key);
  }

  /** Told while a take-in runs, so that records are not written over and over. */
  set busy(busy: boolean) {
    this.behind.busy = busy;
  }

  get stamp(): string {
    return this.current;
  }

  /** The stamp of the library as the browser has it too; null while that is another one. */
  get restingAs(): string | null {
    const { stamp, keptStamp, behind } = this;
    return behind.isIdle && stamp === keptStamp ? stamp : null;
  }

  /** Waits until the browser has kept everything. What it refused is told in `keepFailure`. */
  async flush(): Promise<void> {
    this.behind.mark('head');
    await this.behind.flush();
  }

  /** Brings what an earlier version kept to this one, in the tab that works: one that takes over calls it then. */
  async keepAsNow(): Promise<void> {
    const { library } = this;
    if (!library.mayWrite) return;
    if (this.firstAreOthers) this.behind.mark('first');
    this.firstAreOthers = false;
    if (this.headIsOld) await this.keepJournalsAnew();
    const wasApart = this.apart;
    if (!wasApart) await this.keepAnew();
    // The head says which version all else is of: it is the last to be written.
    if (!this.headIsOld || library.keepFailure !== null) return;
    if (wasApart) {
      for (let index = 0; index < this.saidRecords.length; index++) this.mark(`said ${index}`);
      for (let index = 0; index < this.chunks.length; index++) this.mark(`items ${index}`);
    }
    if (this.partsApart) this.markParts();
    this.mark('head');
    this.headIsOld = false;
  }

  private async keepJournalsAnew(): Promise<void> {
    try {
      const players = this.library.players.map(({ id }) => id);
      await this.storage.rename(players, placeKey('attic' as PlayerId));
    } catch (error) {
      this.fail(error);
    }
  }

  /**
   * Writes all of a library that an earlier version kept. What is said lies with the items until then: it is kept apart
   * first, and where the browser refuses that, the items stay as they are.
   */
  private async keepAnew(): Promise<void> {
    const { library } = this;
    // Before anything else: the next head that is written has no bases in it any more.
    for (const { target } of library.bases) this.mark(`base ${target}`);
    for (const item of library.items) {
      const record = this.saidRecordOf(item.id, saysAnything(item));
      if (record !== null) this.mark(`said ${record}`);
    }
    await this.behind.flush();
    if (library.keepFailure !== null) return;
    this.apart = true;
    for (let index = 0; index < this.chunks.length; index++) this.mark(`items ${index}`);
  }

  private fail(error: unknown): void {
    this.library.keepFailure = error instanceof Error ? error.message : String(error);
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
        this.behind.mark('first');
    }
    return record;
  }

  /** Records of edits that say something of the first items: those that a large library shows before all are read. */
  private saidOfFirst(): number[] {
    const ids = this.chunks.slice(0, FIRST_CHUNKS).flat();
    return [...new Set(ids.flatMap((id) => this.saidIn.get(id) ?? []))];
  }

  private async keep(key: Kept): Promise<void> {
    const { storage, library } = this;
    // Before what it names: what was rehearsed of the library as it was is found no more from here on.
    const { stamp } = this;
    if (stamp !== this.keptStamp) {
      await this.findLoss();
      await storage.head.saveStamp(stamp);
    }
    this.keptStamp = stamp;
    this.watch();
    if (key === 'queue') return library.queue ? storage.head.saveQueue(library.queue) : undefined;
    if (key === 'queue place') return library.queue ? storage.head.saveQueuePlace(library.queue) : undefined;
    if (key === 'head') return this.keepHead();
    if (key === 'first') return storage.items.saveSaidOfFirst(this.saidOfFirst());
    const [what, index] = key.split(' ') as ['items' | 'said' | 'base' | 'list' | 'part', string];
    if (what === 'list') return this.keepList(index as ListId);
    if (what === 'part') return this.keepPart(index as HeadPart);
    if (what === 'base') return storage.bases.save(index as TargetId, library.baseOf(index as TargetId));
    return what === 'items' ? this.keepChunk(Number(index)) : this.keepSaid(Number(index));
  }

  private watch(): void {
    if (this.isWatched) return;
    this.isWatched = true;
    const look = () => {
      this.isWatched = false;
      void this.findLoss().then(() => this.keptStamp !== null && this.watch());
    };
    this.storage.whenDeleted(look).catch(() => (this.isWatched = false));
  }

  /** Looks whether what was kept is still there: where somebody deleted it, all of the library is written anew. */
  async findLoss(): Promise<void> {
    const { library, keptStamp } = this;
    if (keptStamp === null || !library.mayWrite || (await this.storage.head.findStamp()) !== null) return;
    this.keptStamp = null;
    library.isStorageLost = true;
    for (let index = 0; index < this.saidRecords.length; index++) this.mark(`said ${index}`);
    for (let index = 0; index < this.chunks.length; index++) this.mark(`items ${index}`);
    for (const { target } of library.bases) this.mark(`base ${target}`);
    this.markParts();
    this.mark('first', 'head');
  }

  private markParts(): void {
    for (const { id, type } of this.library.lists) if (type === 'hand') this.mark(`list ${id}`);
    for (const part of HEAD_PARTS) this.mark(`part ${part}`);
  }

  private keepList(id: ListId): Promise<void> {
    const list = this.library.lists.find((own) => own.id === id);
    return this.storage.head.saveList(id, list?.type === 'hand' ? list.suites : null);
  }

  private async keepSaid(index: number): Promise<void> {
    const said = (this.saidRecords[index] ?? []).flatMap((id) => {
      const item = this.library.find(id);
      const own = item && saidOf(item);
      return own ? [[id, own] as const] : [];
    });
    await this.storage.items.saveSaid(index, said);
  }

  private async keepHead(): Promise<void> {
    // The head of an earlier version has the parts in it: each has its record before that is written over.
    if (!this.partsApart) {
      const parts = this.library.headParts();
      for (const part of HEAD_PARTS) await this.storage.head.savePart(part, parts[part]);
    }
    await this.storage.head.save(this.chunks.length);
    this.partsApart = true;
  }

  private keepPart(part: HeadPart): Promise<void> {
    // Beside a head of an earlier version nobody would look for it.
    return this.partsApart
      ? this.storage.head.savePart(part, this.library.headParts()[part])
      : this.keepHead();
  }

  private async keepChunk(index: number): Promise<void> {
    await this.storage.items.save(index, this.library.findAll(this.chunks[index] ?? []), this.apart);
  }
}
