import type { Planned } from '../outgoing/item-plan';

/**
 * Decides which item gets a name: the one that the player has under it if it is kept there, otherwise the first that
 * claims it.
 */
export class Claims<E extends Planned> {
  private readonly first = new Map<string, E>();
  /** All claimants of names with more than one. */
  private readonly several = new Map<string, Set<E>>();
  private readonly touched = new Set<string>();

  /** Moves an item's claim from one name to another. Null for none. */
  move(entry: E, from: string | null, to: string | null): void {
    // The other claimants have remarks about the holder, which may have changed.
    if (from === to) {
      if (to !== null && this.several.has(to)) this.touched.add(to);
      return;
    }
    if (from !== null) this.release(entry, from);
    if (to !== null) this.claim(entry, to);
  }

  holder(name: string): E | null {
    return this.first.get(name) ?? null;
  }

  /** Decides again about names whose claims changed. @returns the items that this affects */
  settle(): E[] {
    const affected: E[] = [];
    for (const name of this.touched) {
      const all = this.several.get(name);
      if (!all) continue;
      let first: E | null = null;
      for (const entry of all) {
        affected.push(entry);
        if (!first || comesBefore(entry, first)) first = entry;
      }
      if (all.size < 2) this.several.delete(name);
      if (first) this.first.set(name, first);
      else this.first.delete(name);
    }
    this.touched.clear();
    return affected;
  }

  private claim(entry: E, name: string): void {
    const holder = this.first.get(name);
    const all = this.several.get(name);
    if (all) all.add(entry);
    else if (holder) this.several.set(name, new Set([holder, entry]));
    else this.first.set(name, entry);
    if (holder) this.touched.add(name);
  }

  private release(entry: E, name: string): void {
    const all = this.several.get(name);
    if (!all) this.first.delete(name);
    else {
      all.delete(entry);
      this.touched.add(name);
    }
  }
}

function comesBefore(one: Planned, other: Planned): boolean {
  const isKept = one.keptAt !== null;
  return isKept === (other.keptAt !== null) ? one.order < other.order : isKept;
}
