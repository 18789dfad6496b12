import type { Item, ItemId } from '$lib/core/items';

/** Items looked at before the page gets its turn. */
const LOOKED_AT_ONCE = 2000;

/** Keeps track of which items a worker has, so that only what changed is sent. */
export class ItemMirror<T> {
  private sent: ReadonlyMap<ItemId, Item> = new Map();
  private generation = 0;

  /** @param project what the worker needs of an item */
  constructor(private readonly project: (item: Item) => T) {}

  /**
   * Items that differ from what the worker has; looked for in steps that the page does not feel.
   * @param generation counts the worker's starts: one that was started anew has nothing
   */
  async changedSince(
    items: readonly Item[],
    generation: number,
  ): Promise<{ changed: T[]; removed: ItemId[] }> {
    if (generation !== this.generation) this.sent = new Map();
    this.generation = generation;
    const now = new Map<ItemId, Item>();
    const changed: T[] = [];
    for (const [index, item] of items.entries()) {
      now.set(item.id, item);
      if (this.sent.get(item.id) !== item) changed.push(this.project(item));
      if (index % LOOKED_AT_ONCE === LOOKED_AT_ONCE - 1) await new Promise((resolve) => setTimeout(resolve));
    }
    const removed = [...this.sent.keys()].filter((id) => !now.has(id));
    this.sent = now;
    return { changed, removed };
  }
}
