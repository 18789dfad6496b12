import type { Item, ItemId } from '$lib/core/items';
import { LibraryClient } from '$lib/workers/library-client';
import type { TwinsOf } from '$lib/workers/library-protocol';
import type { Library } from './library.svelte';

/** Items looked up before the page gets its turn. */
const AT_ONCE = 1000;

/**
 * Keeps the library worker up to date. The worker reads all items from the browser's storage; after that it receives
 * only changes.
 */
export class LibraryMirror {
  /** Items that changed since the worker was last updated; null for all. */
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

  /** Has the worker read the stored items while the page does: nothing is changed until that is done. */
  begin(): void {
    this.isEarly = true;
    const { generation } = this.client;
    this.generation = generation;
    this.dirty = new Set();
    this.bringing = this.client.load(this.library.name, generation).catch(() => {
      this.dirty = null;
    });
  }

  /** @param asKept whether the page left the stored items unchanged while it read them */
  opened(asKept: boolean): void {
    if (this.isEarly && !asKept) this.dirty = null;
    this.isEarly = false;
  }

  /**
   * Updates the worker, one call after another.
   * @returns the generation of the worker that now has all items: a restarted one has none
   * @throws {WorkerError} if the worker ended or crashed meanwhile
   */
  bring(): Promise<number> {
    const brought = this.bringing.then(
      () => this.bringNow(),
      () => this.bringNow(),
    );
    this.bringing = brought;
    return brought;
  }

  /** Sends the present twins of items. A worker that starts later reads them from the browser's storage. */
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
    // Later changes are sent next time.
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
