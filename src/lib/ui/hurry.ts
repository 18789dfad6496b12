/** Milliseconds after which a list that no longer moves counts as at rest: some frames, so that one late frame is none. */
const REST_MS = 100;

/**
 * Whether a list flies past faster than it can be read: twice within moments, none of the rows that were shown is shown
 * any more. A single leap (End, a found row) is none, so that what it leads to is drawn at once.
 * @param onrest called once the list has come to rest again
 */
export class Hurry {
  #first = 0;
  #leapt = -Infinity;
  #rest: ReturnType<typeof setTimeout> | undefined;

  constructor(readonly onrest: () => void) {}

  /**
   * Rows from the index `first` on are shown, `count` of them; `now` is in milliseconds.
   * @returns whether the list is in a hurry
   */
  moved(first: number, count: number, now: number): boolean {
    const leap = Math.abs(first - this.#first) >= count;
    this.#first = first;
    if (!leap) return this.#rest !== undefined;
    const again = now - this.#leapt < REST_MS;
    this.#leapt = now;
    if (!again && this.#rest === undefined) return false;
    clearTimeout(this.#rest);
    this.#rest = setTimeout(() => {
      this.#rest = undefined;
      this.onrest();
    }, REST_MS);
    return true;
  }

  /** Nothing is said of it any more. */
  stop(): void {
    clearTimeout(this.#rest);
    this.#rest = undefined;
  }
}
