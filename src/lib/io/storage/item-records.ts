import type { Item, ItemId } from '$lib/core/items';
import {
  joinKept,
  migrateItem,
  originalOf,
  packItems,
  packSaid,
  unpackItems,
  unpackSaid,
  type Unedited,
  type Said,
  type SaidRecord,
} from '$lib/core/library';
import type { Databases } from './databases';

/** Items that share one record: one transaction a record is what costs. */
export const CHUNK_ITEMS = 250;
/** Records of items of a large library that are shown before the others are read. */
export const FIRST_CHUNKS = 8;
/** Items whose edits share one record: an edit writes no more than that. */
export const SAID_ITEMS = 25;

/** The key that stores which records of edits belong to the first items. */
const OF_FIRST = 'said of first';

/** Items and, in separate records, their edits, so that an edit writes only a small record. */
export class ItemRecords {
  constructor(private readonly databases: Databases) {}

  /**
   * Stores the items of one record.
   * @param apart whether their edits are stored separately, or with them because that failed so far
   */
  async save(index: number, items: readonly Item[], apart = true): Promise<void> {
    const kept = apart ? items.map(originalOf) : items;
    await this.databases.writable('library').setItem(`items:${index}`, packItems(kept));
  }

  /** What items are, record by record. @param chunks how many records there are */
  async *readOriginals(chunks: number): AsyncGenerator<readonly Unedited[]> {
    const keys = Array.from({ length: chunks }, (_, index) => `items:${index}`);
    const records = this.databases.readInTurn<string | Unedited[]>('library', keys, FIRST_CHUNKS);
    for await (const record of records) yield unpackItems(record ?? null);
  }

  /** All items, record by record, as they are kept in this version. */
  async *read(chunks: number): AsyncGenerator<readonly Item[]> {
    const { said } = await this.loadSaid();
    for await (const originals of this.readOriginals(chunks)) yield joined(originals, said);
  }

  /** Stores the edits of the items of one record, or deletes the record if there are none. */
  async saveSaid(index: number, said: readonly (readonly [ItemId, Said])[]): Promise<void> {
    const store = this.databases.writable('said');
    if (said.length === 0) await store.removeItem(String(index));
    else await store.setItem(String(index), packSaid(said));
  }

  /** The edits of all items, and which items are in which record. */
  async loadSaid(): Promise<{
    readonly said: ReadonlyMap<ItemId, Said>;
    readonly records: readonly (readonly ItemId[])[];
  }> {
    const said = new Map<ItemId, Said>();
    const records: ItemId[][] = [];
    for (const [key, record] of await this.databases.readAll<SaidRecord>('said')) {
      records[Number(key)] = unpackSaid(record).map(([id, one]) => {
        said.set(id, one);
        return id;
      });
    }
    // A missing record has no items.
    return { said, records: Array.from(records, (record) => record ?? []) };
  }

  async loadSaidOf(records: readonly number[]): Promise<ReadonlyMap<ItemId, Said>> {
    const said = new Map<ItemId, Said>();
    const keys = records.map(String);
    for await (const record of this.databases.readInTurn<SaidRecord>('said', keys, keys.length))
      if (record) for (const [id, one] of unpackSaid(record)) said.set(id, one);
    return said;
  }

  /** Keeps which records say something of the first items of a large library: they are read first. */
  async saveSaidOfFirst(records: readonly number[]): Promise<void> {
    await this.databases.writable('library').setItem(OF_FIRST, records);
  }

  /** Null if it is not known yet. */
  findSaidOfFirst(): Promise<readonly number[] | null> {
    return this.databases.readable('library').getItem<readonly number[]>(OF_FIRST);
  }
}

/** Items with their edits. */
export function joined(originals: readonly Unedited[], said: ReadonlyMap<ItemId, Said>): readonly Item[] {
  return originals.map((original) => joinKept(migrateItem(original as Item), said.get(original.id) ?? null));
}
