import type { Item, ItemId } from '$lib/core/items';
import { LibraryClient } from '$lib/workers/library-client';
import type { TwinsOf } from '$lib/workers/library-protocol';
import type { Library } from './library.svelte';

/** Items looked up before the page gets its turn. */
const AT_ONCE = 1000;

/**
 * Keeps the library worker in step with the library. It reads all items from the browser's storage itself; from then on
 * it is told what changed, and nothing else.
 */
export class LibraryMirror {
  /** Items that changed since the worker was told; null for all of them. */
  private dirty: Set<ItemId> | null = null;
  private generation = 0;
  /** The worker reads what is kept while the page still does: that all of it may be others is not news then. */
  private isEarly = false;
  private bringing: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly library: Library,
    readonly client = new LibraryClient(),
  ) {
    library.onChange((changes) => {
      if (changes === null) {
        if (!this.isEarly) this.dirty = null;
      } else
        for (const { before, after } of changes) {
          const item = after ?? before;
          if (item) this.dirty?.add(item.id);
        }
    });
  }

  /** Has the worker read what the browser keeps while the page does: nothing is changed until that is through. */
  begin(): void {
    this.isEarly = true;
    const { generation } = this.client;
    this.generation = generation;
    this.dirty = new Set();
    this.bringing = this.client.load(this.library.name, generation).catch(() => {
      this.dirty = null;
    });
  }

  /** @param asKept whether the page changed nothing of what is kept while it read it */
  opened(asKept: boolean): void {
    if (this.isEarly && !asKept) this.dirty = null;
    this.isEarly = false;
  }

  /**
   * Brings the worker up to the library, one call after the other.
   * @returns the start of the worker that knows the items now: one that was started anew knows nothing
   * @throws {WorkerError} when the worker ended or fell over meanwhile
   */
  bring(): Promise<number> {
    const brought = this.bringing.then(
      () => this.bringNow(),
      () => this.bringNow(),
    );
    this.bringing = brought;
    return brought;
  }

  /** Tells which twins items have now. A worker that starts later reads them from the browser's storage. */
  async tellTwins(changed: readonly TwinsOf[]): Promise<void> {
    const generation = await this.bring();
    await this.client.twins(changed, generation);
  }

  end(): void {
    this.client.end();
  }

  private async bringNow(): Promise<number> {
    const { generation } = this.client;
    const dirty = generation === this.generation ? this.dirty : null;
    this.generation = generation;
    // What changes from here on is told next time.
    this.dirty = new Set();
    try {
      if (dirty === null) await this.tellAll(generation);
      else await this.tell(dirty, generation);
    } catch (error) {
      this.dirty = null;
      throw error;
    }
    return generation;
  }

  private async tellAll(generation: number): Promise<void> {
    const { library, client } = this;
    await library.flush();
    if (library.isKept) {
      await client.load(library.name, generation);
      return;
    }
    // A tab that looks on may have other items than the storage, and one that cannot write has more.
    await client.forget(generation);
    await this.tell(
      library.items.map(({ id }) => id),
      generation,
    );
  }

  private async tell(ids: Iterable<ItemId>, generation: number): Promise<void> {
    const changed: Item[] = [];
    const removed: ItemId[] = [];
    let count = 0;
    for (const id of ids) {
      const item = this.library.find(id);
      if (item) changed.push(item);
      else removed.push(id);
      if (++count % AT_ONCE === 0) await new Promise((resolve) => setTimeout(resolve));
    }
    await this.client.update(changed, removed, generation);
  }
}
