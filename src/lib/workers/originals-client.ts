import type { CancelOriginals, OriginalsPart, OriginalsRequest, OriginalsResult } from './originals-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, WorkerError, type Unnumbered } from './worker-client';

/** The worker in which originals are written and taken back, one run at a time. */
export class OriginalsClient {
  private readonly client = new WorkerClient<OriginalsRequest>(() => newWorker('originals'));

  /** Never rejects: a worker that fell over has left its journal, by which the run goes on. */
  async do(work: Unnumbered<OriginalsRequest>, progress: (ended: number) => void): Promise<OriginalsResult> {
    try {
      return await this.client.ask<OriginalsResult, OriginalsPart>(work, { onPart: progress });
    } catch (error) {
      if (error instanceof WorkerError) return { type: 'failed', code: 'fault', detail: error.message };
      throw error;
    }
  }

  /** The file under way is finished; the next does not begin. */
  cancel(): void {
    this.client.tell({ type: 'cancel' } satisfies CancelOriginals);
  }

  end(): void {
    this.client.end();
  }
}
