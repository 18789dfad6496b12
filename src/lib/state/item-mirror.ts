import type { Item, ItemId } from '$lib/core/items';
import type { Library } from './library.svelte';

/** Items handed over before the page gets its turn. */
const AT_ONCE = 1000;

/** Keeps track of what changed since a worker was last told, so that only that is sent. */
export class ItemMirror<T> {
  /** Items that changed; null for all, of which nothing was sent yet. */
  private dirty: Set<ItemId> | null = null;
  private generation = 0;

  /** @param project what the worker needs of an item */
  constructor(
    private readonly library: Library,
    private readonly project: (item: Item) => T,
  ) {
    library.onChange((changes) => {
      if (changes === null) this.dirty = null;
      else for (const { before, after } of changes) this.note((after ?? before)?.id);
    });
  }

  /**
   * What the worker does not have, in steps that the page does not feel.
   * @param generation counts the worker's starts: one that was started anew has nothing
   */
  async changes(generation: number): Promise<{ changed: T[]; removed: ItemId[] }> {
    const isNew = generation !== this.generation;
    this.generation = generation;
    const dirty = isNew ? null : this.dirty;
    this.dirty = new Set();
    const changed: T[] = [];
    const removed: ItemId[] = [];
    let count = 0;
    for (const id of dirty ?? this.library.items.map((item) => item.id)) {
      const item = this.library.find(id);
      if (item) changed.push(this.project(item));
      else if (dirty) removed.push(id);
      if (++count % AT_ONCE === 0) await new Promise((resolve) => setTimeout(resolve));
    }
    return { changed, removed };
  }

  private note(id: ItemId | undefined): void {
    if (id !== undefined) this.dirty?.add(id);
  }
}
