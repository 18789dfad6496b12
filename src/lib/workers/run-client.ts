import type { RunReply, RunRequest } from './run-protocol';

type Work = Exclude<RunRequest, { type: 'cancel' }>;
export type RunResult = Exclude<RunReply, { type: 'progress' }>;

/** The worker in which runs are applied and taken back, one at a time. */
export class RunClient {
  private worker: Worker | null = null;
  private waiting: { resolve: (reply: RunResult) => void; progress: (ended: number) => void } | null = null;

  /** @throws {RangeError} when another run is under way */
  do(work: Work, progress: (ended: number) => void): Promise<RunResult> {
    if (this.waiting) throw new RangeError('a run is under way');
    return new Promise((resolve) => {
      this.waiting = { resolve, progress };
      this.open().postMessage(work);
    });
  }

  /** The step under way is finished; the next does not begin. */
  cancel(): void {
    this.worker?.postMessage({ type: 'cancel' } satisfies RunRequest);
  }

  private open(): Worker {
    if (this.worker) return this.worker;
    this.worker = new Worker(new URL('./run-worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<RunReply>) => {
      if (data.type === 'progress') {
        this.waiting?.progress(data.ended);
        return;
      }
      const waiting = this.waiting;
      this.waiting = null;
      waiting?.resolve(data);
    };
    return this.worker;
  }
}
