import localforage from 'localforage';
import type { Checked } from '$lib/core/checks';
import type { Item, ItemId, PictureId, SourceId } from '$lib/core/items';
import { migrateJournal, type Journal, type Outcome } from '$lib/core/run';
import type { Step } from '$lib/core/plan';
import { LIBRARY_VERSION, migrateHead, migrateItem, type LibraryHead } from '$lib/core/library';

/** Items that share one record: one transaction a record is what costs. */
export const CHUNK_ITEMS = 250;
const CHUNK_STEPS = 200;

type Part = 'library' | 'files' | 'handles' | 'pictures' | 'journals' | 'checks';

/** A write that was refused, since another tab works on the library. */
export class LookingOnError extends Error {
  override readonly name = 'LookingOnError';
  constructor() {
    super('another tab works on this library; what was changed here since is not kept');
  }
}

/** What a library keeps in the browser, behind one small interface. Each part is a database of its own. */
export class LibraryStorage {
  private readonly parts = new Map<Part, LocalForage>();

  /** @param mayWrite asked at every write: whoever may not gets a LookingOnError, wherever the write began */
  constructor(
    readonly library: string,
    private readonly mayWrite: () => boolean = () => true,
  ) {}

  /** The head and all items, migrated to this version; null when nothing was kept yet. */
  async load(): Promise<{ head: LibraryHead; chunks: readonly (readonly Item[])[] } | null> {
    const store = this.part('library');
    const kept = await store.getItem<unknown>('head');
    if (kept === null) return null;
    const head = migrateHead(kept);
    const chunks: (readonly Item[])[] = [];
    for (let index = 0; index < head.chunks; index++)
      chunks.push(((await store.getItem<Item[]>(`items:${index}`)) ?? []).map(migrateItem));
    return { head, chunks };
  }

  async saveHead(head: Omit<LibraryHead, 'version'>): Promise<void> {
    await this.writable('library').setItem('head', { version: LIBRARY_VERSION, ...head });
  }

  async saveChunk(index: number, items: readonly Item[]): Promise<void> {
    await this.writable('library').setItem(`items:${index}`, items);
  }

  /** Forgets everything of this library: records, kept files, handles, pictures and journals. */
  async clear(): Promise<void> {
    for (const part of ['library', 'files', 'handles', 'pictures', 'journals', 'checks'] as const)
      await this.writable(part).clear();
  }

  async keepFile(source: SourceId, path: string, file: Blob): Promise<void> {
    await this.writable('files').setItem(`${source}/${path}`, file);
  }

  async findKeptFile(source: SourceId, path: string): Promise<Blob | null> {
    return this.part('files').getItem<Blob>(`${source}/${path}`);
  }

  async dropFile(source: SourceId, path: string): Promise<void> {
    await this.writable('files').removeItem(`${source}/${path}`);
  }

  async keepHandle(source: SourceId, handle: FileSystemDirectoryHandle): Promise<void> {
    await this.writable('handles').setItem(source, handle);
  }

  async findHandle(source: SourceId): Promise<FileSystemDirectoryHandle | null> {
    return this.part('handles').getItem<FileSystemDirectoryHandle>(source);
  }

  async keepCheck(id: ItemId, checked: Checked): Promise<void> {
    await this.writable('checks').setItem(id, checked);
  }

  /** Everything that checks found, by item. */
  async loadChecks(): Promise<Map<ItemId, Checked>> {
    const checks = new Map<ItemId, Checked>();
    await this.part('checks').iterate<Checked, void>((checked, id) => {
      checks.set(id as ItemId, checked);
    });
    return checks;
  }

  async keepPicture(id: PictureId, picture: Blob): Promise<void> {
    await this.writable('pictures').setItem(id, picture);
  }

  async dropPicture(id: PictureId): Promise<void> {
    await this.writable('pictures').removeItem(id);
  }

  async findPicture(id: PictureId): Promise<Blob | null> {
    return this.part('pictures').getItem<Blob>(id);
  }

  /** Begins a journal: its steps in chunks, no outcomes yet. */
  async startJournal(place: string, journal: Journal): Promise<void> {
    const store = this.writable('journals');
    for (const [index, steps] of chunksOf(journal.steps, CHUNK_STEPS).entries()) {
      await store.setItem(`${place}:steps:${index}`, steps);
      await store.setItem(`${place}:outcomes:${index}`, []);
    }
    await this.saveJournalHead(place, journal);
  }

  async saveJournalHead(place: string, { steps, outcomes: _, ...head }: Journal): Promise<void> {
    await this.writable('journals').setItem(`${place}:head`, { ...head, stepCount: steps.length });
  }

  /** Keeps the chunk of outcomes that holds the one at `changed`. */
  async saveOutcomes(place: string, outcomes: readonly Outcome[], changed: number): Promise<void> {
    const chunk = Math.floor(changed / CHUNK_STEPS);
    const slice = outcomes.slice(chunk * CHUNK_STEPS, (chunk + 1) * CHUNK_STEPS);
    await this.writable('journals').setItem(`${place}:outcomes:${chunk}`, slice);
  }

  async loadJournal(place: string): Promise<Journal | null> {
    const store = this.part('journals');
    const head = await store.getItem<Omit<Journal, 'steps' | 'outcomes'> & { stepCount: number }>(
      `${place}:head`,
    );
    if (!head) return null;
    const { stepCount, ...rest } = head;
    const steps: Step[] = [];
    const outcomes: Outcome[] = [];
    for (let index = 0; index * CHUNK_STEPS < stepCount; index++) {
      steps.push(...((await store.getItem<Step[]>(`${place}:steps:${index}`)) ?? []));
      outcomes.push(...((await store.getItem<Outcome[]>(`${place}:outcomes:${index}`)) ?? []));
    }
    return migrateJournal({ ...rest, steps, outcomes });
  }

  async dropJournal(place: string): Promise<void> {
    const store = this.writable('journals');
    for (const key of await store.keys()) if (key.startsWith(`${place}:`)) await store.removeItem(key);
  }

  /** The one way to change something. @throws {LookingOnError} */
  private writable(name: Part): LocalForage {
    if (!this.mayWrite()) throw new LookingOnError();
    return this.part(name);
  }

  private part(name: Part): LocalForage {
    let store = this.parts.get(name);
    if (!store) {
      store = localforage.createInstance({
        driver: localforage.INDEXEDDB,
        name: `lectorum-${this.library}-${name}`,
      });
      this.parts.set(name, store);
    }
    return store;
  }
}

function chunksOf<T>(list: readonly T[], size: number): T[][] {
  const chunks: T[][] = [];
  for (let at = 0; at < list.length; at += size) chunks.push(list.slice(at, at + size));
  return chunks;
}
