import { asked } from '$lib/core/browse';
import { countValues, valuesLike, type QueryName, type ValueCounts } from '$lib/core/query';
import { inSlices } from './in-slices';
import type { Library } from './library.svelte';

const NOTHING: ValueCounts = [];

/** Values in the library for the names of queries, counted on demand and again after changes. */
export class KnownValues {
  private counted = $state.raw<ReadonlyMap<string, ValueCounts>>(new Map());
  private readonly counting = new Map<string, () => void>();
  private isStale = false;

  constructor(private readonly library: Library) {
    library.onChange(() => {
      for (const stop of this.counting.values()) stop();
      this.counting.clear();
      this.isStale = true;
    });
  }

  /** Values similar to a text. Empty until they are counted; then readers are updated. */
  like(name: QueryName, typed: string, most: number): ValueCounts {
    const known = this.counted.get(name.name);
    if (!known || this.isStale) this.count(name);
    return valuesLike(known ?? NOTHING, typed, most);
  }

  private count(name: QueryName): void {
    if (this.counting.has(name.name)) return;
    // Counting starts later, because state must not change while it is read.
    const timer = setTimeout(() => {
      if (this.isStale) this.counted = new Map();
      this.isStale = false;
      const stop = inSlices(countValues(this.library.items, asked, name), (counts) => {
        this.counting.delete(name.name);
        this.counted = new Map([...this.counted, [name.name, counts]]);
      });
      this.counting.set(name.name, stop);
    });
    this.counting.set(name.name, () => clearTimeout(timer));
  }
}
