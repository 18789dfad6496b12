import localforage from 'localforage';
import type { Checked } from '$lib/core/checks';
import type { Item, ItemId, PictureId, SourceId } from '$lib/core/items';
import type { Journal, Outcome } from '$lib/core/run';
import type { Step } from '$lib/core/plan';
import { LIBRARY_VERSION, migrateHead, migrateItem, type LibraryHead } from '$lib/core/library';

/** Items that share one record: one transaction a record is what costs. */
export const CHUNK_ITEMS = 250;
const CHUNK_STEPS = 200;

type Part = 'library' | 'files' | 'handles' | 'pictures' | 'journals' | 'checks';

/** What a library keeps in the browser, behind one small interface. Each part is a database of its own. */
export class LibraryStorage {
  private readonly parts = new Map<Part, LocalForage>();

  constructor(readonly library: string) {}

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
    await this.part('library').setItem('head', { version: LIBRARY_VERSION, ...head });
  }

  async saveChunk(index: number, items: readonly Item[]): Promise<void> {
    await this.part('library').setItem(`items:${index}`, items);
  }

  /** Forgets everything of this library: records, kept files, handles, pictures and journals. */
  async clear(): Promise<void> {
    for (const part of ['library', 'files', 'handles', 'pictures', 'journals', 'checks'] as const)
      await this.part(part).clear();
  }

  async keepFile(source: SourceId, path: string, file: Blob): Promise<void> {
    await this.part('files').setItem(`${source}/${path}`, file);
  }

  async findKeptFile(source: SourceId, path: string): Promise<Blob | null> {
    return this.part('files').getItem<Blob>(`${source}/${path}`);
  }

  async dropFile(source: SourceId, path: string): Promise<void> {
    await this.part('files').removeItem(`${source}/${path}`);
  }

  async keepHandle(source: SourceId, handle: FileSystemDirectoryHandle): Promise<void> {
    await this.part('handles').setItem(source, handle);
  }

  async findHandle(source: SourceId): Promise<FileSystemDirectoryHandle | null> {
    return this.part('handles').getItem<FileSystemDirectoryHandle>(source);
  }

  async keepCheck(id: ItemId, checked: Checked): Promise<void> {
    await this.part('checks').setItem(id, checked);
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
    await this.part('pictures').setItem(id, picture);
  }

  async findPicture(id: PictureId): Promise<Blob | null> {
    return this.part('pictures').getItem<Blob>(id);
  }

  /** Begins a journal: its steps in chunks, no outcomes yet. */
  async startJournal(place: string, journal: Journal): Promise<void> {
    const store = this.part('journals');
    for (const [index, steps] of chunksOf(journal.steps, CHUNK_STEPS).entries()) {
      await store.setItem(`${place}:steps:${index}`, steps);
      await store.setItem(`${place}:outcomes:${index}`, []);
    }
    await this.saveJournalHead(place, journal);
  }

  async saveJournalHead(place: string, { steps, outcomes: _, ...head }: Journal): Promise<void> {
    await this.part('journals').setItem(`${place}:head`, { ...head, stepCount: steps.length });
  }

  /** Keeps the chunk of outcomes that holds the one at `changed`. */
  async saveOutcomes(place: string, outcomes: readonly Outcome[], changed: number): Promise<void> {
    const chunk = Math.floor(changed / CHUNK_STEPS);
    const slice = outcomes.slice(chunk * CHUNK_STEPS, (chunk + 1) * CHUNK_STEPS);
    await this.part('journals').setItem(`${place}:outcomes:${chunk}`, slice);
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
    return { ...rest, steps, outcomes };
  }

  async dropJournal(place: string): Promise<void> {
    const store = this.part('journals');
    for (const key of await store.keys()) if (key.startsWith(`${place}:`)) await store.removeItem(key);
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
