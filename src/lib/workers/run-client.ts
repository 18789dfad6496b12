import type { CancelRun, RunPart, RunRequest, RunResult } from './run-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, WorkerError, type Port, type Unnumbered } from './worker-client';

/** The worker in which runs are applied and taken back, one at a time. */
export class RunClient {
  private readonly client: WorkerClient<RunRequest>;

  constructor(makePort: () => Port = () => newWorker('run')) {
    this.client = new WorkerClient(makePort);
  }

  /**
   * Never rejects: a worker that fell over has left its journal, by which the run goes on.
   * @throws {RangeError} when another run is under way
   */
  async do(work: Unnumbered<RunRequest>, progress: (ended: number) => void): Promise<RunResult> {
    if (this.client.busy > 0) throw new RangeError('a run is under way');
    try {
      return await this.client.ask<RunResult, RunPart>(work, { onPart: progress });
    } catch (error) {
      if (error instanceof WorkerError) return { type: 'failed', code: 'fault', detail: error.message };
      throw error;
    }
  }

  /** The step under way is finished; the next does not begin. */
  cancel(): void {
    this.client.tell({ type: 'cancel' } satisfies CancelRun);
  }

  end(): void {
    this.client.end();
  }
}
