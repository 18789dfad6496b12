import type { Gathering } from '$lib/core/identify';
import type { Item, ItemId } from '$lib/core/items';
import type { PlayerId } from '$lib/core/library';
import type { ListId, ListedItems, WhyListed } from '$lib/core/lists';
import type {
  TopFolderPicture,
  Incoming,
  Finding,
  FindingLine,
  ItemOfFinding,
  PlacedFile,
  PlanAbout,
  PlanDigest,
  Proof,
  Severity,
  ShownNode,
  SidesOf,
  Some,
} from '$lib/core/plan';
import type {
  GatheredPart,
  LibraryRequest,
  ListOfFile,
  ListsTold,
  ToldLists,
  LookResult,
  LookRequest,
  PlanStart,
  PlanWishes,
  TwinsOf,
} from './library-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, type Port, type Unnumbered } from './worker-client';

/** Items sent in one message, so that handing them over never holds the page up. */
const CHUNK_ITEMS = 200;
/** Milliseconds for a plan of a large library on a slow machine. */
const LIMIT = 300_000;

/** The library worker of this page; it starts with the first question. */
export class LibraryClient {
  private readonly client: WorkerClient<LibraryRequest>;
  /** Gatherings as the worker told them, in order, and the start of the worker that did. */
  private told = new Map<string, Gathering>();
  private toldBy = 0;

  constructor(makePort: () => Port = () => newWorker('library')) {
    this.client = new WorkerClient(makePort);
  }

  /** Changes when the worker was started anew, and knows nothing any more. */
  get generation(): number {
    return this.client.generation;
  }

  end(): void {
    this.client.end();
  }

  /** Has the worker read all items from the browser's storage. */
  load(library: string, generation: number): Promise<null> {
    return this.ask({ type: 'load', library }, generation);
  }

  forget(generation: number): Promise<null> {
    return this.ask({ type: 'forget' }, generation);
  }

  /** Tells the worker which items changed. @throws {WorkerError} when it was started anew since */
  async update(changed: readonly Item[], removed: readonly ItemId[], generation: number): Promise<void> {
    for (let at = 0; at < changed.length || (at === 0 && removed.length > 0); at += CHUNK_ITEMS)
      await this.ask(
        { type: 'items', changed: changed.slice(at, at + CHUNK_ITEMS), removed: at === 0 ? removed : [] },
        generation,
      );
  }

  /** Tells what changed of lists, and of what they go by. @returns what each of them comes to */
  lists(wishes: ListsTold, generation: number): Promise<ToldLists> {
    return this.ask({ type: 'lists', wishes }, generation);
  }

  /** What is in a list, as it was told last. */
  listed(list: ListId, generation: number): Promise<ListedItems> {
    return this.ask({ type: 'listed', list }, generation);
  }

  /** Reads a list file. @throws {WorkerError} saying why it is none */
  readList(path: string, bytes: ArrayBuffer, generation: number): Promise<ListOfFile> {
    return this.ask({ type: 'readList', path, bytes }, generation);
  }

  listsOf(item: ItemId, generation: number): Promise<readonly ListId[]> {
    return this.ask({ type: 'listsOf', item }, generation);
  }

  /** Why an item is in a rule list, or is not; null where one of them is gone. */
  whyListed(list: ListId, item: ItemId, generation: number): Promise<WhyListed | null> {
    return this.ask({ type: 'whyListed', list, item }, generation);
  }

  /** Tells which twins some items have now. */
  twins(changed: readonly TwinsOf[], generation: number): Promise<null> {
    return this.ask({ type: 'twins', changed }, generation);
  }

  /** All gatherings; those that are what they were are the same objects as before. */
  async gather(generation: number): Promise<readonly Gathering[]> {
    if (generation !== this.toldBy) this.told = new Map();
    this.toldBy = generation;
    const { told } = this;
    const order = await this.client.ask<readonly string[] | null, GatheredPart>(
      { type: 'gather' },
      {
        generation,
        limit: LIMIT,
        onPart: (part) => {
          for (const gathering of part) told.set(gathering.key, gathering);
        },
      },
    );
    if (order) this.told = new Map(order.flatMap((key) => listed(key, told.get(key))));
    return [...this.told.values()];
  }

  /** Lists a place, and tells of its room where it knows. */
  look(request: LookRequest, generation: number): Promise<LookResult> {
    return this.ask({ type: 'look', ...request }, generation);
  }

  /** What both sides agreed on there, and when. */
  base(
    player: PlayerId,
    placed: readonly PlacedFile[],
    since: number | null,
    generation: number,
  ): Promise<null> {
    return this.ask({ type: 'base', player, placed, since }, generation);
  }

  /** @throws {WorkerError} when planning failed, which is a fault of ours */
  plan(player: PlayerId, wishes: PlanWishes, generation: number): Promise<PlanDigest> {
    return this.ask({ type: 'plan', player, wishes }, generation);
  }

  /** What an outermost node of the showing holds. */
  nodes(player: PlayerId, key: string): Promise<readonly ShownNode[]> {
    return this.ask({ type: 'nodes', player, key });
  }

  /** What the plan means for some items; null while there is none. */
  about(player: PlayerId, items: readonly ItemId[]): Promise<PlanAbout | null> {
    return this.ask({ type: 'about', player, items });
  }

  /** Findings of a severity, or of all, the gravest first. */
  findings(
    player: PlayerId,
    severity: Severity | null,
    from: number,
    to: number,
  ): Promise<readonly FindingLine[]> {
    return this.ask({ type: 'findings', player, severity, from, to });
  }

  /** A finding with all its items, and with what mends them. */
  finding(player: PlayerId, finding: string): Promise<Finding | null> {
    return this.ask({ type: 'finding', player, finding });
  }

  /** The first items that a finding is about, and how many there are. */
  itemsOf(player: PlayerId, finding: string, most: number): Promise<Some<ItemOfFinding> | null> {
    return this.ask({ type: 'itemsOf', player, finding, most });
  }

  /** Both sides of what a finding is about, where one is to be chosen. */
  sides(player: PlayerId, finding: string): Promise<readonly SidesOf[]> {
    return this.ask({ type: 'sides', player, finding });
  }

  /** Top folders of the player that are to have a picture of their own. */
  topFolders(player: PlayerId): Promise<readonly TopFolderPicture[]> {
    return this.ask({ type: 'topFolders', player });
  }

  /** What comes from the player before a run, where what was done there counts. */
  comes(player: PlayerId): Promise<Incoming> {
    return this.ask({ type: 'comes', player });
  }

  /**
   * Writes the journal of a run of the plan; tells how many steps it has.
   * @throws {WorkerError} when that is not the plan any more
   */
  begin(start: PlanStart): Promise<number> {
    return this.ask({ type: 'begin', ...start });
  }

  /** Holds the player's own scan against the rehearsal. @throws {WorkerError} when the player does not answer */
  prove(player: PlayerId, device: string): Promise<Proof> {
    return this.ask({ type: 'prove', player, device });
  }

  private ask<Value>(request: Unnumbered<LibraryRequest>, generation?: number): Promise<Value> {
    return this.client.ask(
      request,
      generation === undefined ? { limit: LIMIT } : { generation, limit: LIMIT },
    );
  }
}

const listed = (key: string, gathering: Gathering | undefined): (readonly [string, Gathering])[] =>
  gathering ? [[key, gathering]] : [];
