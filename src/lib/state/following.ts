import type { ItemChange } from '$lib/core/browse';

/** Milliseconds that building takes of the page at once. */
const AT_ONCE = 10;

/**
 * Has something follow the items of a library. What is made anew is made at once where that is soon done, else in
 * slices that the page does not feel; changes that come meanwhile wait for it.
 */
export class Following {
  private late: ItemChange[] | null = null;
  private turn = 0;

  /** @param take takes changes up; after building it is called with those that came meanwhile, if any */
  constructor(private readonly take: (changes: readonly ItemChange[]) => void) {}

  /** Whether it is being built: what it says is not whole. */
  get isBuilding(): boolean {
    return this.late !== null;
  }

  build(steps: Generator<void>): void {
    this.late = [];
    this.goOn(steps, ++this.turn);
  }

  change(changes: readonly ItemChange[]): void {
    if (this.late) this.late.push(...changes);
    else this.take(changes);
  }

  private goOn(steps: Generator<void>, turn: number): void {
    if (turn !== this.turn) return;
    const until = performance.now() + AT_ONCE;
    while (performance.now() < until) {
      if (!steps.next().done) continue;
      const late = this.late ?? [];
      this.late = null;
      this.take(late);
      return;
    }
    setTimeout(() => this.goOn(steps, turn));
  }
}
