/** One row of a list as it is drawn: what shows it stays, and shows another row once that one left the screen. */
export interface Slot<R> {
  readonly slot: number;
  /** Place of its row in the list. */
  readonly index: number;
  readonly row: R;
}

/**
 * The rows from `start` on, each in the slot that its place in the list gives it. Rows that stay keep their slot
 * as long as no more are shown than before.
 * @param before slots as they were; one that shows the same row is the same one
 */
export function slotsOf<R>(
  rows: readonly R[],
  start: number,
  count: number,
  before: readonly Slot<R>[],
): readonly Slot<R>[] {
  const size = Math.max(count, before.length);
  const next: Slot<R>[] = [];
  for (let slot = 0; slot < size; slot++) {
    const index = start + ((((slot - start) % size) + size) % size);
    const row = rows[index];
    if (row === undefined) continue;
    const known = before[slot];
    next.push(
      known?.slot === slot && known.index === index && known.row === row ? known : { slot, index, row },
    );
  }
  return next;
}
