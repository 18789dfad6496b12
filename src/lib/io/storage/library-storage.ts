import { type PlaceRoom } from '$lib/core/run';
import localforage from 'localforage';
import type { Checked } from '$lib/core/checks';
import type { Item, ItemId, PictureId, SourceId } from '$lib/core/items';
import {
  ownedFile,
  pastKey,
  type PastFile,
  type PlacedFile,
  type PlanDigest,
  type ThereFile,
} from '$lib/core/plan';
import type { Levels } from '$lib/core/sound';
import { newId } from '../new-id';
import { OriginalsHistory } from './originals-history';
import { whenDeleted, readAll, readInTurn } from './read-records';
import { RunHistory } from './run-history';
import {
  EARLIER_PLACES,
  LIBRARY_VERSION,
  TARGET_TYPES,
  holdsSaid,
  joinKept,
  migrateHead,
  migrateItem,
  originalOf,
  packItems,
  packSaid,
  targetId,
  unpackItems,
  unpackSaid,
  type Base,
  type HeadParts,
  type LibraryHead,
  type Original,
  type PlayerId,
  type Said,
  type SaidRecord,
  type TargetId,
} from '$lib/core/library';

/** Items that share one record: one transaction a record is what costs. */
export const CHUNK_ITEMS = 250;
/** Records of items of a large library that are shown before the others are read. */
export const FIRST_CHUNKS = 8;
/** Records of items that make a library a large one. */
const LARGE_CHUNKS = 2 * FIRST_CHUNKS + 1;
export const isLarge = (chunks: number): boolean => chunks >= LARGE_CHUNKS;
/** Files of a base that share one record. */
const CHUNK_PLACED = 500;
/** Files that lay at a target earlier, and are remembered. */
const MOST_PAST = 20_000;
/** Version of a record of a part of the head. Raise it with a migration where it is loaded. */
const PART_VERSION = 1;
/** Version of a record of a base. Raise it with a migration where it is loaded. */
const BASE_VERSION = 1;

/** Where it is kept which records of edits are those of the first items. */
const OF_FIRST = 'said of first';

/** Items whose edits share one record: an edit writes no more than that. */
export const SAID_ITEMS = 25;
/** Parts of what lies beside the items that have a record each; bases have several. */
export const HEAD_PARTS = [
  'sources',
  'arrivals',
  'players',
  'folderKinds',
  'feeds',
  'watched',
  'lists',
  'views',
  'presets',
] as const satisfies readonly (keyof HeadParts)[];
export type HeadPart = (typeof HEAD_PARTS)[number];

interface PartRecord {
  readonly version: number;
  readonly entries: readonly unknown[];
}

/** A library as the browser kept it. */
export interface KeptLibrary {
  readonly head: LibraryHead;
  readonly chunks: readonly (readonly Item[])[];
  /** Items of each record of edits. */
  readonly said: readonly (readonly ItemId[])[];
  /** Records of edits that are told to be those of the first items; null where nothing is told yet. */
  readonly saidOfFirst: readonly number[] | null;
  /** An earlier version kept items together with what is said of them: all is to be written anew. */
  readonly isOld: boolean;
  /** An earlier version kept its head, and its records in another form. */
  readonly headIsOld: boolean;
  /** Its parts have records of their own; they lie in the head where an earlier version kept them. */
  readonly partsApart: boolean;
}

/** What is there of a library while the rest of it is still being read. */
export interface FirstOfLibrary {
  readonly head: LibraryHead;
  readonly items: readonly Item[];
  /** Of all items, from 0 to 1. */
  readonly share: number;
}

/** What a target listed when it last answered. */
export interface SeenPlace {
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly list: readonly ThereFile[];
  readonly room: PlaceRoom | null;
}

/** Version of a record of what a place listed; one of another version is as good as none. */
const SEEN_VERSION = 1;

/** What a target was to get when all had come to rest. */
export interface KeptRehearsal {
  /** Names all that it was made from: where that is another one by now, it holds no more. */
  readonly of: string;
  readonly digest: PlanDigest;
  /** It has only what a list of several players shows. */
  readonly isBrief: boolean;
}

/** Version of a record of a rehearsal; one of another version is as good as none. */
const REHEARSAL_VERSION = 1;

/** How loud an item's sound is, with what its file was when it was heard. */
export interface KeptLevels extends Levels {
  /** Bytes, and milliseconds since 1970. */
  readonly size: number;
  readonly modified: number;
}

/** Version of a record of levels; one of another version is as good as none. */
const LEVELS_VERSION = 1;

/** Databases of a library. */
const PARTS = [
  'library',
  'said',
  'bases',
  'files',
  'handles',
  'pictures',
  'journals',
  'checks',
  'seen',
  'rehearsals',
  'levels',
  'originals',
] as const;
type Part = (typeof PARTS)[number];

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

  /** What runs did at each target. */
  readonly runs = new RunHistory(
    () => this.part('journals'),
    () => this.writable('journals'),
  );

  /** What was written into originals, and the ways back. */
  readonly originals = new OriginalsHistory(
    () => this.part('originals'),
    () => this.writable('originals'),
  );

  /**
   * The head and all items, migrated to this version; null when nothing was kept yet.
   * @param first is told the head and the first items, where many more are to come
   */
  async load(first: (begun: FirstOfLibrary) => void = () => {}): Promise<KeptLibrary | null> {
    const store = this.part('library');
    const kept = await store.getItem<{ readonly version?: number }>('head');
    if (kept === null) return null;
    const version = Number(kept.version ?? 0);
    const headIsOld = version !== LIBRARY_VERSION;
    // Up to version 3 bases were part of the head, up to version 4 all else was.
    const partsApart = version >= 5;
    // Asked for at once: the browser fetches one while another is made of what it gave.
    const [parts, ofFirst] = await Promise.all([
      partsApart ? this.loadParts() : {},
      store.getItem<readonly number[]>(OF_FIRST),
    ]);
    const migrated = migrateHead({ ...kept, ...parts });
    const basesApart = version >= 4;
    // What lies on players is not looked at before all items are there, and is as long as they are.
    const head = basesApart ? { ...migrated, bases: [] } : migrated;
    let isOld = version < 4;
    const begun: (readonly Original[])[] = [];
    const reading = this.readOriginals(head.chunks);
    // Where it is not known yet which those of the first items are.
    const early = ofFirst === null ? this.loadSaid() : null;
    if (isLarge(head.chunks)) {
      const [said] = await Promise.all([
        early ? early.then(({ said }) => said) : this.loadSaidOf(ofFirst ?? []),
        takeSome(reading, FIRST_CHUNKS, begun),
      ]);
      const items = begun.flatMap((originals) => joined(originals, said));
      first({ head, items, share: FIRST_CHUNKS / head.chunks });
    }
    const { said, records } = await (early ?? this.loadSaid());
    const chunks: (readonly Item[])[] = [];
    const join = (originals: readonly Original[]) => {
      isOld ||= originals.some(holdsSaid);
      chunks.push(joined(originals, said));
    };
    // What was shown of the first may have lacked something, where the browser was closed between two records.
    begun.forEach(join);
    for await (const originals of reading) join(originals);
    const bases = basesApart ? await this.loadBases() : head.bases;
    return {
      head: { ...head, bases },
      chunks,
      said: records,
      saidOfFirst: ofFirst,
      isOld,
      headIsOld,
      partsApart,
    };
  }

  /** All items, record by record, as they are kept in this version. */
  async *readItems(): AsyncGenerator<readonly Item[]> {
    const head = await this.part('library').getItem<LibraryHead>('head');
    const { said } = await this.loadSaid();
    for await (const originals of this.readOriginals(head?.chunks ?? 0)) yield joined(originals, said);
  }

  private async *readOriginals(chunks: number): AsyncGenerator<readonly Original[]> {
    const keys = Array.from({ length: chunks }, (_, index) => `items:${index}`);
    for await (const record of readInTurn<string | Original[]>(
      this.databaseOf('library'),
      keys,
      FIRST_CHUNKS,
    ))
      yield unpackItems(record ?? null);
  }

  private async loadSaid(): Promise<{ said: Map<ItemId, Said>; records: ItemId[][] }> {
    const said = new Map<ItemId, Said>();
    const records: ItemId[][] = [];
    await this.part('said').ready();
    for (const [key, record] of await readAll<SaidRecord>(this.databaseOf('said'))) {
      records[Number(key)] = unpackSaid(record).map(([id, one]) => {
        said.set(id, one);
        return id;
      });
    }
    // A record that is missing has nobody in it.
    return { said, records: Array.from(records, (record) => record ?? []) };
  }

  private async loadSaidOf(records: readonly number[]): Promise<ReadonlyMap<ItemId, Said>> {
    const said = new Map<ItemId, Said>();
    await this.part('said').ready();
    const keys = records.map(String);
    for await (const record of readInTurn<SaidRecord>(this.databaseOf('said'), keys, keys.length))
      if (record) for (const [id, one] of unpackSaid(record)) said.set(id, one);
    return said;
  }

  /** Keeps what is said of the items of one record: of none any more, and there is no record. */
  async saveSaid(index: number, said: readonly (readonly [ItemId, Said])[]): Promise<void> {
    const store = this.writable('said');
    if (said.length === 0) await store.removeItem(String(index));
    else await store.setItem(String(index), packSaid(said));
  }

  /** Keeps which records say something of the first items of a large library: they are read first. */
  async saveSaidOfFirst(records: readonly number[]): Promise<void> {
    await this.writable('library').setItem(OF_FIRST, records);
  }

  /** Keeps what all else is found by. @param chunks records of items */
  async saveHead(chunks: number): Promise<void> {
    await this.writable('library').setItem('head', { version: LIBRARY_VERSION, chunks });
  }

  /**
   * Calls when somebody deletes what is kept, as far as the browser tells: it does when it is asked to forget the data
   * of the page. Something must be kept already.
   */
  whenDeleted(call: () => void): Promise<void> {
    return whenDeleted(this.databaseOf('library'), call);
  }

  /** Keeps a name for the library as it is from now on: it goes before whatever makes it another one. */
  async saveStamp(stamp: string): Promise<void> {
    await this.writable('library').setItem('stamp', stamp);
  }

  /** Null for a library that nothing was changed of since there are stamps. */
  async findStamp(): Promise<string | null> {
    return this.part('library').getItem<string>('stamp');
  }

  /** Names the library in this browser, wherever its runs leave something; made at the first. */
  async writer(): Promise<string> {
    const known = await this.findWriter();
    if (known !== null) return known;
    const writer = newId();
    await this.writable('library').setItem('writer', writer);
    return writer;
  }

  /** Null before anything was asked to be written under it. */
  async findWriter(): Promise<string | null> {
    return this.part('library').getItem<string>('writer');
  }

  /** Keeps one part of what lies beside the items. */
  async savePart<P extends HeadPart>(part: P, entries: HeadParts[P]): Promise<void> {
    const record: PartRecord = { version: PART_VERSION, entries };
    await this.writable('library').setItem(`part:${part}`, record);
  }

  private async loadParts(): Promise<Partial<HeadParts>> {
    const store = this.part('library');
    const records = await Promise.all(
      HEAD_PARTS.map(async (part) => [part, await store.getItem<PartRecord>(`part:${part}`)] as const),
    );
    return Object.fromEntries(
      records.map(([part, record]) => {
        if (record !== null && record.version !== PART_VERSION)
          throw new RangeError(`version ${record.version} of ${part} is not known here`);
        return [part, record?.entries ?? []];
      }),
    );
  }

  /** Keeps what our runs left at a target. */
  async saveBase(target: TargetId, placed: readonly PlacedFile[]): Promise<void> {
    const store = this.writable('bases');
    const chunks = chunksOf(placed, CHUNK_PLACED);
    const before = (await store.getItem<BaseHead>(target))?.chunks ?? 0;
    for (const [index, chunk] of chunks.entries()) await store.setItem(`${target} ${index}`, chunk);
    if (chunks.length === 0) await store.removeItem(target);
    else await store.setItem(target, { version: BASE_VERSION, chunks: chunks.length } satisfies BaseHead);
    for (let index = chunks.length; index < before; index++) await store.removeItem(`${target} ${index}`);
  }

  /** Notes what a run of ours put aside at a target, the latest first: the oldest go where there are too many. */
  async notePast(target: TargetId, past: readonly PastFile[]): Promise<void> {
    if (past.length === 0) return;
    const all = new Map([...past, ...(await this.findPast(target))].map((file) => [pastKey(file), file]));
    await this.writable('bases').setItem(`${target} past`, [...all.values()].slice(0, MOST_PAST));
  }

  async findPast(target: TargetId): Promise<readonly PastFile[]> {
    return (await this.part('bases').getItem<readonly PastFile[]>(`${target} past`)) ?? [];
  }

  private async loadBases(): Promise<Base[]> {
    await this.part('bases').ready();
    const records = new Map(await readAll<BaseHead | PlacedFile[]>(this.databaseOf('bases')));
    return [...records].flatMap(([target, record]): Base[] => {
      if (Array.isArray(record)) return [];
      if (record.version !== BASE_VERSION)
        throw new RangeError(`version ${record.version} of what lies on players is not known here`);
      const placed: PlacedFile[] = [];
      for (let index = 0; index < record.chunks; index++)
        placed.push(
          ...((records.get(`${target} ${index}`) as PlacedFile[] | undefined) ?? []).map(ownedFile),
        );
      return [{ target: target as TargetId, placed }];
    });
  }

  /**
   * Keeps what the items of one record are.
   * @param apart what is said of them lies apart; it lies with them where that could not be kept yet
   */
  async saveChunk(index: number, items: readonly Item[], apart = true): Promise<void> {
    await this.writable('library').setItem(
      `items:${index}`,
      packItems(apart ? items.map(originalOf) : items),
    );
  }

  /** Forgets everything of this library: records, kept files, handles, pictures and journals. */
  async clear(): Promise<void> {
    for (const part of PARTS) await this.writable(part).clear();
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

  /** Up to version 6 one folder was kept, for the only player there was. */
  async moveHandle(from: SourceId, to: SourceId): Promise<void> {
    const store = this.writable('handles');
    const handle = await store.getItem(from);
    if (handle === null) return;
    await store.setItem(to, handle);
    await store.removeItem(from);
  }

  async findHandle(source: SourceId): Promise<FileSystemDirectoryHandle | null> {
    return this.part('handles').getItem<FileSystemDirectoryHandle>(source);
  }

  /** What a target listed, for when it does not answer. */
  async keepSeen(target: TargetId, seen: SeenPlace): Promise<void> {
    await this.writable('seen').setItem(target, { version: SEEN_VERSION, ...seen });
  }

  /** Null where nothing is kept of it, or a newer version did. */
  async findSeen(target: TargetId): Promise<SeenPlace | null> {
    const kept = await this.part('seen').getItem<SeenPlace & { readonly version: number }>(target);
    return kept?.version === SEEN_VERSION ? kept : null;
  }

  async keepRehearsal(target: TargetId, rehearsal: KeptRehearsal): Promise<void> {
    await this.writable('rehearsals').setItem(target, { version: REHEARSAL_VERSION, ...rehearsal });
  }

  /** Null where none is kept, or another version did. */
  async findRehearsal(target: TargetId): Promise<KeptRehearsal | null> {
    const kept = await this.part('rehearsals').getItem<KeptRehearsal & { readonly version: number }>(target);
    return kept?.version === REHEARSAL_VERSION ? kept : null;
  }

  async keepLevels(id: ItemId, levels: KeptLevels): Promise<void> {
    await this.writable('levels').setItem(id, { version: LEVELS_VERSION, ...levels });
  }

  /** Null where none are kept, or another version did. */
  async findLevels(id: ItemId): Promise<KeptLevels | null> {
    const kept = await this.part('levels').getItem<KeptLevels & { readonly version: number }>(id);
    return kept?.version === LEVELS_VERSION ? kept : null;
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

  /** Journals of up to version 3 went by the names of places, and up to version 5 there was one of each target. */
  async moveJournals(player: PlayerId): Promise<void> {
    const store = this.writable('journals');
    for (const key of await store.keys()) {
      const [place = '', ...rest] = key.split(':');
      const type = EARLIER_PLACES[place];
      if (!type) continue;
      await store.setItem([targetId(player, type), ...rest].join(':'), await store.getItem(key));
      await store.removeItem(key);
    }
    for (const type of TARGET_TYPES) await this.runs.adopt(targetId(player, type));
  }

  /** The one way to change something. @throws {LookingOnError} */
  private writable(name: Part): LocalForage {
    if (!this.mayWrite()) throw new LookingOnError();
    return this.part(name);
  }

  private databaseOf(name: Part): string {
    return `lectorum-${this.library}-${name}`;
  }

  private part(name: Part): LocalForage {
    let store = this.parts.get(name);
    if (!store) {
      store = localforage.createInstance({
        driver: localforage.INDEXEDDB,
        name: this.databaseOf(name),
      });
      this.parts.set(name, store);
    }
    return store;
  }
}

interface BaseHead {
  readonly version: number;
  readonly chunks: number;
}

async function takeSome<T>(from: AsyncIterator<T, void>, count: number, into: T[]): Promise<void> {
  while (into.length < count) {
    const { done, value } = await from.next();
    if (done) return;
    into.push(value);
  }
}

function joined(originals: readonly Original[], said: ReadonlyMap<ItemId, Said>): readonly Item[] {
  return originals.map((original) => joinKept(migrateItem(original as Item), said.get(original.id) ?? null));
}

function chunksOf<T>(list: readonly T[], size: number): T[][] {
  const chunks: T[][] = [];
  for (let at = 0; at < list.length; at += size) chunks.push(list.slice(at, at + size));
  return chunks;
}
