import type { Planned } from '../outgoing/item-plan';
import type { PathKeys } from '../path-keys';

/** A folder as the names of items give it, with these items. */
interface NamedFolder<E extends Planned> {
  readonly node: SpelledFolder<E>;
  readonly entries: Set<E>;
}

/** A folder by the key under which the player treats paths as equal, with every spelling of its own name. */
class SpelledFolder<E extends Planned> {
  /** Its path as it is spelled on the player. */
  spelled = '';
  readonly below = new Set<SpelledFolder<E>>();
  /** Named folders at or below it, by the spelling of its own name. */
  readonly parts = new Map<string, Set<NamedFolder<E>>>();
  /** Named folders that are equal to this one. */
  readonly here = new Set<NamedFolder<E>>();

  constructor(
    readonly key: string,
    readonly above: SpelledFolder<E> | null,
    readonly depth: number,
    /** Its spelling if files that stay on the player fix it. */
    public fixed: string | null,
  ) {}

  /** The spelling that it gets: that of its first item. */
  spell(): string {
    if (this.fixed !== null) return this.fixed;
    const above = this.above?.spelled ?? '';
    const part = this.firstPart();
    return above === '' ? part : `${above}/${part}`;
  }

  private firstPart(): string {
    let first = '';
    let least = Infinity;
    for (const [part, folders] of this.parts) {
      if (this.parts.size === 1) return part;
      for (const { entries } of folders)
        for (const { order } of entries) if (order < least) [first, least] = [part, order];
    }
    return first;
  }
}

/** Folders that differ only in case are one folder on most players. Decides how each is spelled. */
export class Spelling<E extends Planned> {
  private readonly named = new Map<string, NamedFolder<E>>();
  private readonly nodes = new Map<string, SpelledFolder<E>>();
  private readonly touched = new Set<SpelledFolder<E>>();
  /** The folder of each item's name. */
  private readonly homes = new Map<E, SpelledFolder<E>>();

  /** @param fixed the spelling of a folder that stays on the player, by the key of its path; null for others */
  constructor(
    private readonly keys: PathKeys,
    private readonly fixed: (key: string) => string | null,
  ) {}

  /** Moves an item from one folder to another. Null for none. */
  move(entry: E, from: string | null, to: string | null): void {
    if (from === to) return;
    if (from !== null) this.leave(entry, from);
    if (to === null) this.homes.delete(entry);
    else this.homes.set(entry, this.join(entry, to));
  }

  /** The spelling of an item's folder; null if its name has none. */
  of(entry: E): string | null {
    return this.homes.get(entry)?.spelled ?? null;
  }

  /** Folders whose spelling may no longer be fixed. */
  release(keys: Iterable<string>): void {
    for (const key of keys) {
      const node = this.nodes.get(key);
      if (!node || node.fixed === this.fixed(key)) continue;
      node.fixed = this.fixed(key);
      this.touched.add(node);
    }
  }

  /** Updates spellings. @returns the items whose folders are now spelled differently */
  settle(): E[] {
    const moved: E[] = [];
    const open = [...this.touched].sort((a, b) => a.depth - b.depth);
    this.touched.clear();
    // Folders below one that is respelled are handled after it.
    for (const node of open) {
      const spelled = node.spell();
      if (spelled === node.spelled) continue;
      node.spelled = spelled;
      for (const { entries } of node.here) for (const entry of entries) moved.push(entry);
      for (const below of node.below) open.push(below);
    }
    return moved;
  }

  private join(entry: E, folder: string): SpelledFolder<E> {
    let named = this.named.get(folder);
    if (!named) {
      const node = this.nodeOf(folder);
      this.named.set(folder, (named = { node, entries: new Set() }));
      node.here.add(named);
      const parts = folder.split('/');
      for (let at: SpelledFolder<E> | null = node; at; at = at.above) {
        const part = parts[at.depth] as string;
        const others = at.parts.get(part);
        if (others) others.add(named);
        else at.parts.set(part, new Set([named]));
        this.touched.add(at);
      }
    }
    named.entries.add(entry);
    this.touch(named.node);
    return named.node;
  }

  private leave(entry: E, folder: string): void {
    const named = this.named.get(folder);
    if (!named) return;
    named.entries.delete(entry);
    this.touch(named.node);
    if (named.entries.size > 0) return;
    this.named.delete(folder);
    named.node.here.delete(named);
    const parts = folder.split('/');
    for (let at: SpelledFolder<E> | null = named.node; at; at = at.above) {
      const part = parts[at.depth] as string;
      const others = at.parts.get(part);
      others?.delete(named);
      if (others?.size === 0) at.parts.delete(part);
      if (at.parts.size > 0) this.touched.add(at);
      else this.forget(at);
    }
  }

  /** The first item of a folder only matters if there are several spellings. */
  private touch(node: SpelledFolder<E>): void {
    for (let at: SpelledFolder<E> | null = node; at; at = at.above)
      if (at.parts.size > 1) this.touched.add(at);
  }

  private forget(node: SpelledFolder<E>): void {
    this.touched.delete(node);
    node.above?.below.delete(node);
    this.nodes.delete(node.key);
  }

  private nodeOf(folder: string): SpelledFolder<E> {
    const key = this.keys.of(folder);
    const known = this.nodes.get(key);
    if (known) return known;
    const cut = folder.lastIndexOf('/');
    const above = cut < 0 ? null : this.nodeOf(folder.slice(0, cut));
    const node = new SpelledFolder(key, above, above ? above.depth + 1 : 0, this.fixed(key));
    above?.below.add(node);
    this.nodes.set(key, node);
    return node;
  }
}
