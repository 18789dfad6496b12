import type { HeadParts } from '$lib/core/library';
import type { HandList, ListId, PlayList, Suite } from '$lib/core/lists';
import { newId } from '../new-id';
import type { Databases } from './databases';
import { KEPT, checkVersion } from './kept';

/** Parts of a library with a record each; bases have several, and the entries of a hand list have their own. */
export const HEAD_PARTS = [
  'sources',
  'arrivals',
  'players',
  'folderKinds',
  'feeds',
  'watched',
  'lists',
  'plays',
  'marks',
  'views',
  'presets',
  'recipes',
  'references',
] as const satisfies readonly (keyof HeadParts)[];
export type HeadPart = (typeof HEAD_PARTS)[number];

/** What is played one after the other, which entry of it is heard, and the list that it was begun from. */
interface Queue extends QueuePlace {
  readonly suites: readonly Suite[];
}
interface QueuePlace {
  readonly at: number;
  readonly from: ListId | null;
}
interface QueueRecord {
  readonly version: number;
  readonly suites: readonly Suite[];
}

interface PartRecord {
  readonly version: number;
  readonly entries: readonly unknown[];
}

/** What is kept of a library but its items: the head that all else is found by, and a record for each of its parts. */
export class HeadRecords {
  constructor(private readonly databases: Databases) {}

  /** The head in whatever version; null if there is none yet. */
  find(): Promise<{ readonly version?: number; readonly chunks?: number } | null> {
    return this.databases.readable('library').getItem('head');
  }

  /** @param chunks records of items */
  async save(chunks: number): Promise<void> {
    await this.databases.writable('library').setItem('head', { version: KEPT.library.head, chunks });
  }

  /** Stores one part of the library. */
  async savePart<P extends HeadPart>(part: P, entries: HeadParts[P]): Promise<void> {
    const kept = part === 'lists' ? (entries as readonly PlayList[]).map(withoutSuites) : entries;
    const record: PartRecord = { version: KEPT.library.part, entries: kept };
    await this.databases.writable('library').setItem(`part:${part}`, record);
  }

  /** Stores the entries of a hand list, so that moving one writes only this record. Null deletes it. */
  async saveList(id: ListId, suites: readonly Suite[] | null): Promise<void> {
    const store = this.databases.writable('library');
    if (suites === null) await store.removeItem(`list:${id}`);
    else await store.setItem(`list:${id}`, suites);
  }

  /** @throws {RangeError} if a newer version stored one of them */
  async loadParts(): Promise<Partial<HeadParts>> {
    const parts = await this.loadRecords();
    const lists = await Promise.all((parts.lists ?? []).map((list) => this.withSuites(list)));
    return { ...parts, lists };
  }

  private async withSuites(list: PlayList): Promise<PlayList> {
    if (list.type !== 'hand') return list;
    const suites = await this.databases.readable('library').getItem<readonly Suite[]>(`list:${list.id}`);
    return { ...list, suites: suites ?? [] };
  }

  private async loadRecords(): Promise<Partial<HeadParts>> {
    const store = this.databases.readable('library');
    const records = await Promise.all(
      HEAD_PARTS.map(async (part) => [part, await store.getItem<PartRecord>(`part:${part}`)] as const),
    );
    return Object.fromEntries(
      records.map(([part, record]) => {
        if (record !== null) checkVersion(record.version, KEPT.library.part, part);
        return [part, record?.entries ?? []];
      }),
    );
  }

  /** Keeps what is played one after the other. */
  async saveQueue({ suites }: Queue): Promise<void> {
    const record: QueueRecord = { version: KEPT.library.queue, suites };
    await this.databases.writable('library').setItem('queue', record);
  }

  /** Stores the current entry of the queue, in a record of its own because it changes with every track. */
  async saveQueuePlace({ at, from }: Queue): Promise<void> {
    const place: QueuePlace = { at, from };
    await this.databases.writable('library').setItem('queue:place', place);
  }

  /** Null if nothing was played yet, or for another version. */
  async findQueue(): Promise<Queue | null> {
    const store = this.databases.readable('library');
    const [record, place] = await Promise.all([
      store.getItem<QueueRecord>('queue'),
      store.getItem<QueuePlace>('queue:place'),
    ]);
    if (record?.version !== KEPT.library.queue) return null;
    return { suites: record.suites, at: place?.at ?? -1, from: place?.from ?? null };
  }

  /** Stores a stamp of the present state: it is removed before anything changes it. */
  async saveStamp(stamp: string): Promise<void> {
    await this.databases.writable('library').setItem('stamp', stamp);
  }

  /** Null if the library was not changed since stamps exist. */
  findStamp(): Promise<string | null> {
    return this.databases.readable('library').getItem<string>('stamp');
  }

  /** Names the library in this browser, wherever its runs leave something; made at the first. */
  async writer(): Promise<string> {
    const known = await this.findWriter();
    if (known !== null) return known;
    const writer = newId();
    await this.databases.writable('library').setItem('writer', writer);
    return writer;
  }

  /** Null before anything was asked to be written under it. */
  findWriter(): Promise<string | null> {
    return this.databases.readable('library').getItem<string>('writer');
  }
}

function withoutSuites(list: PlayList): PlayList | Omit<HandList, 'suites'> {
  if (list.type !== 'hand') return list;
  const { suites: _, ...facts } = list;
  return facts;
}
