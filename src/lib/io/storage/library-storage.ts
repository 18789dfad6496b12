import type { Checked } from '$lib/core/checks';
import type { Item, ItemId, PictureId, SourceId } from '$lib/core/items';
import {
  holdsSaid,
  migrateHead,
  type LibraryHead,
  type Unedited,
  type PlayerId,
  type TargetId,
} from '$lib/core/library';
import type { PlanDigest, ThereFile } from '$lib/core/plan';
import type { TargetRoom } from '$lib/core/run';
import type { Levels } from '$lib/core/sound';
import type { TwinRecipe } from '$lib/core/twins';
import { BaseRecords } from './base-records';
import { Databases } from './databases';
import { HeadRecords } from './head-records';
import { FIRST_CHUNKS, ItemRecords, joined } from './item-records';
import { moveHandle, moveJournals } from './migrations/names';
import { OriginalsHistory } from './originals-history';
import { FileRecords, PassingRecords, PlainRecords } from './records';
import { RunHistory } from './run-history';
import { TwinRecords } from './twin-records';
import { clearTwinFiles } from '../twin-files';
import type { TWIN_FOLDER } from '../twin-folder';

/** Records of items that make a library a large one. */
const LARGE_CHUNKS = 2 * FIRST_CHUNKS + 1;
export const isLarge = (chunks: number): boolean => chunks >= LARGE_CHUNKS;

/** A library as the browser kept it. */
export interface KeptLibrary {
  readonly head: LibraryHead;
  readonly chunks: readonly (readonly Item[])[];
  /** Items of each record of edits. */
  readonly said: readonly (readonly ItemId[])[];
  /** Records of edits that belong to the first items; null if unknown. */
  readonly saidOfFirst: readonly number[] | null;
  /** An earlier version stored items together with their edits: everything is written again. */
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
export interface TargetSnapshot {
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly list: readonly ThereFile[];
  readonly room: TargetRoom | null;
}

/** What a target was to get when all had come to rest. */
export interface KeptRehearsal {
  /** Names all that it was made from: where that is another one by now, it holds no more. */
  readonly of: string;
  readonly digest: PlanDigest;
  /** It has only what a list of several players shows. */
  readonly isBrief: boolean;
}

/** How loud an item's sound is, with what its file was when it was heard. */
export interface KeptLevels extends Levels {
  /** Bytes, and milliseconds since 1970. */
  readonly size: number;
  readonly modified: number;
}

/** Twins that are still to be made, so that a page that is opened again goes on. */
export interface KeptMaking {
  readonly jobs: readonly { readonly item: ItemId; readonly recipe: TwinRecipe }[];
  /** Seconds that were made in one second, by the effort that it takes. */
  readonly speeds: Readonly<Record<string, number>>;
}

/** What a library keeps in the browser: a class for each kind of record. `kept.ts` says what is kept where. */
export class LibraryStorage {
  readonly head: HeadRecords;
  readonly items: ItemRecords;
  readonly bases: BaseRecords;
  readonly files: FileRecords<SourceId>;
  readonly handles: PlainRecords<SourceId | typeof TWIN_FOLDER, FileSystemDirectoryHandle>;
  readonly pictures: PlainRecords<PictureId, Blob>;
  readonly checks: PlainRecords<ItemId, Checked>;
  readonly seen: PassingRecords<TargetId, TargetSnapshot>;
  readonly rehearsals: PassingRecords<TargetId, KeptRehearsal>;
  readonly levels: PassingRecords<ItemId, KeptLevels>;
  readonly twins: TwinRecords;
  readonly making: PassingRecords<'queue', KeptMaking>;
  readonly runs: RunHistory;
  readonly originals: OriginalsHistory;
  private readonly databases: Databases;

  /** @param mayWrite asked at every write: whoever may not gets a LookingOnError, wherever the write began */
  constructor(
    readonly library: string,
    mayWrite: () => boolean = () => true,
  ) {
    const databases = new Databases(library, mayWrite);
    this.databases = databases;
    this.head = new HeadRecords(databases);
    this.items = new ItemRecords(databases);
    this.bases = new BaseRecords(databases);
    this.files = new FileRecords(databases);
    this.handles = new PlainRecords(databases, 'handles');
    this.pictures = new PlainRecords(databases, 'pictures');
    this.checks = new PlainRecords(databases, 'checks');
    this.seen = new PassingRecords(databases, 'seen');
    this.rehearsals = new PassingRecords(databases, 'rehearsals');
    this.levels = new PassingRecords(databases, 'levels');
    this.twins = new TwinRecords(databases);
    this.making = new PassingRecords(databases, 'making');
    this.runs = new RunHistory(databases);
    this.originals = new OriginalsHistory(databases);
  }

  /**
   * The head and all items, migrated to this version; null when nothing was kept yet.
   * @param first is told the head and the first items, where many more are to come
   */
  async load(first: (begun: FirstOfLibrary) => void = () => {}): Promise<KeptLibrary | null> {
    const { items } = this;
    const kept = await this.head.find();
    if (kept === null) return null;
    const version = Number(kept.version ?? 0);
    // Up to version 3 bases were part of the head, up to version 4 all else was.
    const partsApart = version >= 5;
    // Asked for at once: the browser fetches one while another is made of what it gave.
    const [parts, saidOfFirst] = await Promise.all([
      partsApart ? this.head.loadParts() : {},
      items.findSaidOfFirst(),
    ]);
    const migrated = migrateHead({ ...kept, ...parts });
    const basesApart = version >= 4;
    // What lies on players is not looked at before all items are there, and is as long as they are.
    const head = basesApart ? { ...migrated, bases: [] } : migrated;
    const begun: (readonly Unedited[])[] = [];
    const reading = items.readOriginals(head.chunks);
    // Where it is not known yet which those of the first items are.
    const early = saidOfFirst === null ? items.loadSaid() : null;
    if (isLarge(head.chunks)) {
      const [said] = await Promise.all([
        early ? early.then((all) => all.said) : items.loadSaidOf(saidOfFirst ?? []),
        takeSome(reading, FIRST_CHUNKS, begun),
      ]);
      const shown = begun.flatMap((originals) => joined(originals, said));
      first({ head, items: shown, share: FIRST_CHUNKS / head.chunks });
    }
    const { said, records } = await (early ?? items.loadSaid());
    let isOld = version < 4;
    const chunks: (readonly Item[])[] = [];
    const join = (originals: readonly Unedited[]) => {
      isOld ||= originals.some(holdsSaid);
      chunks.push(joined(originals, said));
    };
    // What was shown of the first may have lacked something, where the browser was closed between two records.
    begun.forEach(join);
    for await (const originals of reading) join(originals);
    const bases = basesApart ? await this.bases.load() : head.bases;
    const headIsOld = version !== migrated.version;
    return { head: { ...head, bases }, chunks, said: records, saidOfFirst, isOld, headIsOld, partsApart };
  }

  /** All items, record by record, as they are kept in this version. */
  async *readItems(): AsyncGenerator<readonly Item[]> {
    const head = await this.head.find();
    yield* this.items.read(head?.chunks ?? 0);
  }

  /** Gives what earlier versions kept under other names the names of today. @param folder that of a player's folder */
  async rename(players: readonly PlayerId[], folder: SourceId): Promise<void> {
    for (const id of players) await moveJournals(this.databases, this.runs, id);
    await moveHandle(this.databases, 'place-folder' as SourceId, folder);
  }

  /**
   * Calls when somebody deletes what is kept, as far as the browser tells: it does when it is asked to forget the data
   * of the page. Something must be kept already.
   */
  whenDeleted(call: () => void): Promise<void> {
    return this.databases.whenDeleted(call);
  }

  /** Forgets everything of this library: records, kept files, handles, pictures, twins and journals. */
  async clear(): Promise<void> {
    await this.databases.clear();
    await clearTwinFiles(this.library);
  }
}

async function takeSome<T>(from: AsyncIterator<T, void>, count: number, into: T[]): Promise<void> {
  while (into.length < count) {
    const { done, value } = await from.next();
    if (done) return;
    into.push(value);
  }
}
