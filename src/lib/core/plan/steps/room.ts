import type { Kind } from '../../kinds';
import type { Planned } from '../outgoing/item-plan';
import { turnOf, type Selection } from '../selection';

/** Space that something takes on a player. */
export interface RoomTaken {
  readonly bytes: number;
  readonly files: number;
}

/** A copy that is new on the player. */
interface NewCopy<E extends Planned> extends RoomTaken {
  readonly entry: E;
  readonly kind: Kind;
  /** Its rank within its kind. */
  readonly turn: number;
  /** It is in the list with priority. */
  readonly isFirst: boolean;
}

/**
 * Which new copies stay out if the player has no room for all of them. Files that are already there stay; new ones are
 * added by priority.
 */
export class Room<E extends Planned> {
  /** Items that stay out. */
  out: ReadonlySet<E> = new Set();
  private readonly coming = new Map<E, NewCopy<E>>();
  private sum: RoomTaken = NOTHING;
  private outSum: RoomTaken = NOTHING;
  private hasChanged = false;
  /** The space for new copies when this was last decided. */
  private left: RoomTaken = NOTHING;

  /**
   * @param free bytes that runs may still write, and files that we may have there; infinite if there is no limit
   * @param selection sets the priorities
   * @param isFirst whether an item comes before all others, whatever its kind
   */
  constructor(
    private readonly free: RoomTaken,
    private readonly selection: Selection,
    private readonly isFirst: (entry: E) => boolean = () => false,
  ) {}

  get isLimited(): boolean {
    return this.free.bytes !== Infinity || this.free.files !== Infinity;
  }

  /** The space that items leave for files shared by several of them. */
  leftBeside(planned: RoomTaken): RoomTaken {
    return minus(this.free, planned);
  }

  /** Bytes that do not fit. */
  get missing(): number {
    return this.outSum.bytes;
  }

  /** @param files number of files that are written for it */
  put(entry: E, kind: Kind, files: number): void {
    // The size of the original, which is close to that of the copy.
    const bytes = entry.item.size;
    const turn = turnOf(entry.item, this.selection.first);
    const isFirst = this.isFirst(entry);
    const before = this.coming.get(entry);
    const isSame =
      before?.bytes === bytes &&
      before.files === files &&
      before.kind === kind &&
      before.turn === turn &&
      before.isFirst === isFirst;
    if (isSame) return;
    this.take(entry);
    const coming = { entry, bytes, files, kind, turn, isFirst };
    this.coming.set(entry, coming);
    this.sum = plus(this.sum, coming);
    this.hasChanged = true;
  }

  take(entry: E): void {
    const before = this.coming.get(entry);
    if (!before) return;
    this.coming.delete(entry);
    this.sum = minus(this.sum, before);
    this.hasChanged = true;
  }

  /**
   * Decides again which items stay out.
   * @param planned bytes to be written, and our files on the player after the run
   * @returns the items for which that changed
   */
  settle(planned: RoomTaken): E[] {
    if (!this.isLimited) return [];
    const others = minus(planned, minus(this.sum, this.outSum));
    const left = minus(this.free, others);
    const fits = isWithin(this.sum, left);
    const isSame = !this.hasChanged && this.left.bytes === left.bytes && this.left.files === left.files;
    if (fits ? this.out.size === 0 : isSame) return [];
    this.hasChanged = false;
    this.left = left;
    const before = this.out;
    this.out = fits ? new Set() : this.chosenOut(left);
    this.outSum = NOTHING;
    for (const entry of this.out) this.outSum = plus(this.outSum, this.coming.get(entry) ?? NOTHING);
    const changed = [...this.out].filter((entry) => !before.has(entry));
    for (const entry of before) if (!this.out.has(entry)) changed.push(entry);
    return changed;
  }

  /** By priority, taking each that still fits: one large film does not keep everything else out. */
  private chosenOut(free: RoomTaken): Set<E> {
    const rank = new Map(this.selection.order.map((kind, index) => [kind, index]));
    const all = [...this.coming.values()].sort(
      (a, b) =>
        Number(b.isFirst) - Number(a.isFirst) ||
        (rank.get(a.kind) ?? rank.size) - (rank.get(b.kind) ?? rank.size) ||
        a.turn - b.turn ||
        a.entry.order - b.entry.order,
    );
    const out = new Set<E>();
    let left = free;
    for (const coming of all)
      if (isWithin(coming, left)) left = minus(left, coming);
      else out.add(coming.entry);
    return out;
  }
}

const NOTHING: RoomTaken = { bytes: 0, files: 0 };
const plus = (a: RoomTaken, b: RoomTaken): RoomTaken => ({
  bytes: a.bytes + b.bytes,
  files: a.files + b.files,
});
const minus = (a: RoomTaken, b: RoomTaken): RoomTaken => ({
  bytes: a.bytes - b.bytes,
  files: a.files - b.files,
});
const isWithin = (a: RoomTaken, b: RoomTaken): boolean => a.bytes <= b.bytes && a.files <= b.files;
