import type { ItemChange } from '$lib/core/browse';
import { inSlices } from './in-slices';

/** Changes per step. */
const FEW = 500;
/** For more items than this, the page is drawn before they are read. */
const MANY = 10_000;

/**
 * Keeps something up to date with the items of a library. Long work is done in short slices; changes that arrive meanwhile
 * are applied afterwards. If many changes arrive at once, the page is drawn with them first.
 */
export class Following {
  private late: ItemChange[] | null = null;
  private stop: () => void = () => {};
  private turn = 0;

  /**
   * @param take applies changes
   * @param show is called once all changes are applied
   */
  constructor(
    private readonly take: (changes: readonly ItemChange[]) => void,
    private readonly show: () => void,
  ) {}

  /** Whether it is being built, so that its content is incomplete. */
  get isBuilding(): boolean {
    return this.late !== null;
  }

  /** Builds it again after all items may have changed. @param items how many there are */
  rebuild(steps: Generator<void, void>, items: number): void {
    this.build(steps, items > MANY ? 'later' : 'now');
  }

  build(steps: Generator<void, void>, begins: 'now' | 'later' = 'now'): void {
    this.stop();
    this.late = [];
    const turn = ++this.turn;
    const stop = inSlices(steps, () => this.catchUp(), begins);
    // A short build may already have started the next one.
    if (turn === this.turn) this.stop = stop;
  }

  change(changes: readonly ItemChange[]): void {
    if (this.late) {
      for (const change of changes) this.late.push(change);
      return;
    }
    if (changes.length > FEW) return this.build(this.taking(changes), 'later');
    this.take(changes);
    this.show();
  }

  private catchUp(): void {
    const late = this.late ?? [];
    this.late = null;
    if (late.length > FEW) return this.build(this.taking(late), 'later');
    if (late.length > 0) this.take(late);
    this.show();
  }

  private *taking(changes: readonly ItemChange[]): Generator<void, void> {
    for (let at = 0; at < changes.length; at += FEW) {
      this.take(changes.slice(at, at + FEW));
      yield;
    }
  }
}
