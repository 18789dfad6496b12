import type { Kind } from '../../kinds';
import type { Planned } from '../outgoing/item-plan';
import { turnOf, type Selection } from '../selection';

/** A copy that comes to a player anew. */
interface Coming<E extends Planned> {
  readonly entry: E;
  /** Bytes of its original, which those of its copy are close to. */
  readonly bytes: number;
  readonly kind: Kind;
  /** Its turn among those of its kind. */
  readonly turn: number;
}

/**
 * Which new copies stay out where the room of a player does not hold all of them. What lies there already stays;
 * what comes anew is let in by its importance.
 */
export class Room<E extends Planned> {
  /** Items that stay out. */
  out: ReadonlySet<E> = new Set();
  private readonly coming = new Map<E, Coming<E>>();
  private bytes = 0;
  private outBytes = 0;
  private hasChanged = false;
  /** Bytes for what comes anew, when it was last decided. */
  private left = 0;

  /**
   * @param free bytes that runs may still write; null where that is not known
   * @param selection says what comes first
   */
  constructor(
    private readonly free: number | null,
    private readonly selection: Selection,
  ) {}

  /** Bytes that do not fit. */
  get missing(): number {
    return this.outBytes;
  }

  put(entry: E, kind: Kind): void {
    const { size } = entry.item;
    const turn = turnOf(entry.item, this.selection.first);
    const before = this.coming.get(entry);
    if (before?.bytes === size && before.kind === kind && before.turn === turn) return;
    this.take(entry);
    this.coming.set(entry, { entry, bytes: size, kind, turn });
    this.bytes += size;
    this.hasChanged = true;
  }

  take(entry: E): void {
    const before = this.coming.get(entry);
    if (!before) return;
    this.coming.delete(entry);
    this.bytes -= before.bytes;
    this.hasChanged = true;
  }

  /**
   * Decides anew who stays out.
   * @param written bytes of all copies that are to be written, of those that lie there already too
   * @returns the items for which that changed
   */
  settle(written: number): E[] {
    const { free } = this;
    if (free === null) return [];
    const others = written - (this.bytes - this.outBytes);
    const fits = this.bytes + others <= free;
    if (fits ? this.out.size === 0 : !this.hasChanged && this.left === free - others) return [];
    this.hasChanged = false;
    this.left = free - others;
    const before = this.out;
    this.out = fits ? new Set() : this.chosenOut(this.left);
    this.outBytes = 0;
    for (const entry of this.out) this.outBytes += this.coming.get(entry)?.bytes ?? 0;
    const changed = [...this.out].filter((entry) => !before.has(entry));
    for (const entry of before) if (!this.out.has(entry)) changed.push(entry);
    return changed;
  }

  /** By importance, each that still fits: one large film does not keep all else out. */
  private chosenOut(free: number): Set<E> {
    const rank = new Map(this.selection.order.map((kind, index) => [kind, index]));
    const all = [...this.coming.values()].sort(
      (a, b) =>
        (rank.get(a.kind) ?? rank.size) - (rank.get(b.kind) ?? rank.size) ||
        a.turn - b.turn ||
        a.entry.order - b.entry.order,
    );
    const out = new Set<E>();
    let left = free;
    for (const { entry, bytes } of all)
      if (bytes <= left) left -= bytes;
      else out.add(entry);
    return out;
  }
}
