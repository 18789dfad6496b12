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

/** Which stored record holds which part of a library, and which records have to be written. */
export class LibraryRecords {
  private chunkOf = new Map<ItemId, number>();
  /** The items of each stored record, including items that were removed since. */
  private chunks: ItemId[][] = [];
  private saidIn = new Map<ItemId, number>();
  /** The items of each stored record of edits, including items that have no edits any more. */
  private saidRecords: ItemId[][] = [];
  /** The hint of which edit records belong to the first rows is out of date and has to be rewritten. */
  private firstAreOthers = false;
  /** Edits are stored in records of their own. An earlier version stored them with the items. */
  private apart = true;
  /** The parts beside the items are stored separately, too. */
  private partsApart = true;
  private headIsOld = false;
  /** The browser reports when the stored data is deleted. */
  private isWatched = false;
  /** Records of items and of edits that changed and are not marked for writing yet. */
  private readonly touched = new Set<number>();
  private readonly touchedSaid = new Set<number>();
  private readonly behind: WriteBehind<Kept>;
  /** Changes with every change of the library. */
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
      (key) => key.startsWith('items ') || key.startsWith('said '),
    );
  }

  /** Forgets all records, before those of the browser are read. */
  clear(): void {
    this.chunkOf = new Map();
    this.chunks = [];
  }

  /** Adds the next record of items. */
  add(ids: ItemId[]): void {
    for (const id of ids) this.chunkOf.set(id, this.chunks.length);
    this.chunks.push(ids);
  }

  /** Reads how everything else was stored, once the items are there, and migrates it. */
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

  /** Stores the queue soon; the library does not count as changed. @param place only which entry is playing */
  markQueue(place: boolean): void {
    if (!place) this.behind.mark('queue');
    this.behind.mark('queue place');
  }

  /** Assigns a record to a new item. */
  assign(id: ItemId): void {
    // An item that was removed and comes back still has its record.
    if (this.chunkOf.has(id)) return;
    let last = this.chunks.at(-1);
    if (!last || last.length >= CHUNK_ITEMS) {
      this.chunks.push((last = []));
      this.mark('head');
    }
    last.push(id);
    this.chunkOf.set(id, this.chunks.length - 1);
  }

  /** Notes which records a change touches: an edit does not touch the record of what the file contains. */
  note(id: ItemId, before: Item | null, after: Item | null): void {
    if (!(before && after && sameOriginal(before, after))) {
      const chunk = this.chunkOf.get(id);
      if (chunk !== undefined) this.touched.add(chunk);
    }
    if (before && after && sameSaid(before, after)) return;
    const record = this.saidRecordOf(id, after !== null && saysAnything(after));
    if (record !== null) this.touchedSaid.add(record);
  }

  /** Marks the noted records for writing, all changes of one act together. */
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

  /** Set during a take-in, so that records are not written again and again. */
  set busy(busy: boolean) {
    this.behind.busy = busy;
  }

  get stamp(): string {
    return this.current;
  }

  /** The stamp, if the browser has stored exactly this state; else null. */
  get restingAs(): string | null {
    const { stamp, keptStamp, behind } = this;
    return behind.isIdle && stamp === keptStamp ? stamp : null;
  }

  /** Waits until everything is stored. If the browser refuses, `keepFailure` says why. */
  async flush(): Promise<void> {
    this.behind.mark('head');
    await this.behind.flush();
  }

  /** Migrates what an earlier version stored, in the working tab. A tab that takes over calls it then. */
  async keepAsNow(): Promise<void> {
    const { library } = this;
    if (!library.mayWrite) return;
    if (this.firstAreOthers) this.behind.mark('first');
    this.firstAreOthers = false;
    if (this.headIsOld) await this.keepJournalsAnew();
    const wasApart = this.apart;
    if (!wasApart) await this.keepAnew();
    // The head names the version of everything else, so it is written last.
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
   * Stores a whole library of an earlier version again. Edits are still in the records of items: they are stored separately
   * first, and if the browser refuses that, the items stay as they are.
   */
  private async keepAnew(): Promise<void> {
    const { library } = this;
    // First of all, because the next head will no longer contain the bases.
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

  /** The record of an item's edits. One is assigned when the item is edited for the first time. */
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

  /** The records with edits of the first items, which a large library shows before everything is read. */
  private saidOfFirst(): number[] {
    const ids = this.chunks.slice(0, FIRST_CHUNKS).flat();
    return [...new Set(ids.flatMap((id) => this.saidIn.get(id) ?? []))];
  }

  private async keep(key: Kept): Promise<void> {
    const { storage, library } = this;
    // The stamp goes first: from here on, no rehearsal of the earlier state is found.
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

  /** Checks that the stored data is still there. If somebody deleted it, the whole library is stored again. */
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
    // The head of an earlier version contains the parts: each gets its own record before the head is overwritten.
    if (!this.partsApart) {
      const parts = this.library.headParts();
      for (const part of HEAD_PARTS) await this.storage.head.savePart(part, parts[part]);
    }
    await this.storage.head.save(this.chunks.length);
    this.partsApart = true;
  }

  private keepPart(part: HeadPart): Promise<void> {
    // With a head of an earlier version nobody would look for it.
    return this.partsApart
      ? this.storage.head.savePart(part, this.library.headParts()[part])
      : this.keepHead();
  }

  private async keepChunk(index: number): Promise<void> {
    await this.storage.items.save(index, this.library.findAll(this.chunks[index] ?? []), this.apart);
  }
}
