/** Work in hand and the last thing finished, as the dock shows them. */

/** Milliseconds between two words of progress: more would only keep the page drawing. */
const PROGRESS_EVERY = 200;

/** One job under way, with its own progress, cancel and end. */
export class Job {
  done = $state(0);
  /** Null while the amount is not known yet. */
  total = $state<number | null>(null);
  /** Seconds left, or null if unknown. */
  secondsLeft = $state<number | null>(null);
  private readonly startedAt = Date.now();
  private toldAt = 0;

  constructor(
    readonly label: string,
    total: number | null,
    /** Null if it cannot be cancelled. */
    readonly cancel: (() => void) | null,
    private readonly work: Work,
  ) {
    this.total = total;
  }

  progress(done: number, total: number | null = this.total): void {
    const now = Date.now();
    if (now - this.toldAt < PROGRESS_EVERY && total === this.total) return;
    this.toldAt = now;
    const elapsed = (now - this.startedAt) / 1000;
    // The first seconds say little of the rest.
    this.secondsLeft = total && done > 0 && elapsed > 1 ? (elapsed / done) * (total - done) : null;
    this.done = done;
    this.total = total;
  }

  /** Ends the job without a message. Ending it again does nothing. */
  end(): void {
    this.work.jobs = this.work.jobs.filter((job) => job !== this);
  }

  finish(text: string, failed = false): void {
    this.end();
    this.work.say(text, failed);
  }
}

export interface Finished {
  readonly text: string;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly failed: boolean;
}

export class Work {
  /** What is under way, the oldest first. */
  jobs = $state.raw<readonly Job[]>([]);
  finished = $state.raw<Finished | null>(null);

  start(label: string, total: number | null, cancel: (() => void) | null): Job {
    const job = new Job(label, total, cancel, this);
    this.jobs = [...this.jobs, job];
    return job;
  }

  /** Reports something that was done, or failed, without a job. */
  say(text: string, failed = false): void {
    this.finished = { text, at: Date.now(), failed };
  }
}
