/** Work in hand and the last thing finished, as the dock shows them. */

export interface Job {
  readonly label: string;
  readonly done: number;
  /** Null while the amount is not known yet. */
  readonly total: number | null;
  /** Seconds left, or null while nothing can be said. */
  readonly secondsLeft: number | null;
  readonly cancel: (() => void) | null;
}

export interface Finished {
  readonly text: string;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly failed: boolean;
}

/** Milliseconds between two words of progress: more would only keep the page drawing. */
const PROGRESS_EVERY = 200;

export class Work {
  job = $state.raw<Job | null>(null);
  finished = $state.raw<Finished | null>(null);
  private startedAt = 0;
  private toldAt = 0;

  start(label: string, total: number | null, cancel: (() => void) | null): void {
    this.startedAt = Date.now();
    this.job = { label, done: 0, total, secondsLeft: null, cancel };
  }

  progress(done: number, total: number | null = this.job?.total ?? null): void {
    const now = Date.now();
    if (!this.job || (now - this.toldAt < PROGRESS_EVERY && total === this.job.total)) return;
    this.toldAt = now;
    const elapsed = (now - this.startedAt) / 1000;
    // The first seconds say little of the rest.
    const secondsLeft = total && done > 0 && elapsed > 1 ? (elapsed / done) * (total - done) : null;
    this.job = { ...this.job, done, total, secondsLeft };
  }

  finish(text: string, failed = false): void {
    this.job = null;
    this.finished = { text, at: Date.now(), failed };
  }
}
