import type {
  Candidate,
  Decisions,
  Gathering,
  GatherItem,
  LineFile,
  Offer,
  ReferenceEntry,
  ReferenceRelease,
} from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';
import type { GatheredPart, IdentifyRequest } from './identify-protocol';
import { WorkerClient, type Port } from './worker-client';

/** Items sent in one message, so that handing them over never holds the page up. */
const CHUNK_ITEMS = 200;
/** Milliseconds for an answer, on a slow machine with a large library. */
const LIMIT = 120_000;

/** The identifying worker of this page; it starts with the first question. */
export class IdentifyClient {
  private readonly client: WorkerClient<IdentifyRequest>;
  /** Gatherings as the worker told them, in order, and the start of the worker that did. */
  private told = new Map<string, Gathering>();
  private toldBy = 0;

  constructor(
    makePort: () => Port = () =>
      new Worker(new URL('./identify-worker.ts', import.meta.url), { type: 'module' }),
  ) {
    this.client = new WorkerClient(makePort);
  }

  /** Changes when the worker was started anew, and knows no items any more. */
  get generation(): number {
    return this.client.generation;
  }

  end(): void {
    this.client.end();
  }

  /** Tells the worker which items changed since the last call. @throws {WorkerError} when it was started anew since */
  async update(
    changed: readonly GatherItem[],
    removed: readonly ItemId[],
    generation: number,
  ): Promise<void> {
    for (let at = 0; at < changed.length || (at === 0 && removed.length > 0); at += CHUNK_ITEMS)
      await this.client.ask(
        { type: 'items', changed: changed.slice(at, at + CHUNK_ITEMS), removed: at === 0 ? removed : [] },
        { generation, limit: LIMIT },
      );
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

  rank(
    files: readonly LineFile[],
    words: string,
    releases: readonly ReferenceRelease[],
  ): Promise<readonly Candidate[]> {
    return this.client.ask({ type: 'rank', files, words, releases }, { limit: LIMIT });
  }

  lineUp(
    files: readonly LineFile[],
    entries: readonly ReferenceEntry[],
    decisions: Decisions,
  ): Promise<Offer> {
    return this.client.ask({ type: 'lineUp', files, entries, decisions }, { limit: LIMIT });
  }
}

const listed = (key: string, gathering: Gathering | undefined): (readonly [string, Gathering])[] =>
  gathering ? [[key, gathering]] : [];
