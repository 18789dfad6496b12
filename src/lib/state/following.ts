import type { ItemChange } from '$lib/core/browse';
import { inSlices } from './in-slices';

/** Changes taken up at once. */
const FEW = 500;
/** Items that are not soon looked at. */
const MANY = 10_000;

/**
 * Has something follow the items of a library. What takes long is done in slices that the page does not feel; changes
 * that come meanwhile wait for it. Where many come at once, the page is drawn with them before anything else is done.
 */
export class Following {
  private late: ItemChange[] | null = null;
  private stop: () => void = () => {};
  private turn = 0;

  /**
   * @param take takes changes up
   * @param show is called once all of them are taken up
   */
  constructor(
    private readonly take: (changes: readonly ItemChange[]) => void,
    private readonly show: () => void,
  ) {}

  /** Whether it is being built: what it says is not whole. */
  get isBuilding(): boolean {
    return this.late !== null;
  }

  /** Has it look at all items anew, where all of them may be others. @param items how many there are */
  rebuild(steps: Generator<void, void>, items: number): void {
    this.build(steps, items > MANY ? 'later' : 'now');
  }

  build(steps: Generator<void, void>, begins: 'now' | 'later' = 'now'): void {
    this.stop();
    this.late = [];
    const turn = ++this.turn;
    const stop = inSlices(steps, () => this.catchUp(), begins);
    // What was soon done may have begun the next already.
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
