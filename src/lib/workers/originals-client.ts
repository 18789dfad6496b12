import type { OriginalJob } from '$lib/core/originals';
import type {
  CancelOriginals,
  FinishedRequest,
  FinishedResult,
  OriginalsPart,
  OriginalsRequest,
  OriginalsResult,
} from './originals-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, WorkerError, type Unnumbered } from './worker-client';

/** The worker in which originals are written and taken back, one run at a time. */
export class OriginalsClient {
  private readonly client = new WorkerClient<OriginalsRequest | FinishedRequest>(() =>
    newWorker('originals'),
  );

  /** Never rejects: a worker that fell over has left its journal, by which the run goes on. */
  async do(work: Unnumbered<OriginalsRequest>, progress: (ended: number) => void): Promise<OriginalsResult> {
    try {
      return await this.client.ask<OriginalsResult, OriginalsPart>(work, { onPart: progress });
    } catch (error) {
      if (error instanceof WorkerError) return { type: 'failed', code: 'fault', detail: error.message };
      throw error;
    }
  }

  /** The file of an item with all that is said of it. @throws {Error} saying why it cannot be made */
  async finished(library: string, job: OriginalJob): Promise<Blob> {
    const result = await this.client.ask<FinishedResult>({ type: 'finished', library, job });
    if (result.type === 'failed') throw new Error(result.detail);
    return result.file;
  }

  /** The file under way is finished; the next does not begin. */
  cancel(): void {
    this.client.tell({ type: 'cancel' } satisfies CancelOriginals);
  }

  end(): void {
    this.client.end();
  }
}
