import type { TwinRecipe } from '$lib/core/twins';
import type {
  AssembleRequest,
  AssembleResult,
  ConvertQuestion,
  ConvertRequest,
  ConvertResult,
} from './convert-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, WorkerError, type Port } from './worker-client';

/** What is to be made. */
export type ConvertJob = Omit<ConvertRequest, 'type' | 'id'>;

const makeWorker = (): Port => newWorker('convert');

/** Parts that are to be joined. */
export type AssembleJob = Omit<AssembleRequest, 'type' | 'id'>;

/** A worker that makes twins, one at a time. */
export class ConvertClient {
  private readonly client: WorkerClient<ConvertQuestion>;

  constructor(makePort: () => Port = makeWorker) {
    this.client = new WorkerClient(makePort);
  }

  /** Never rejects, but when the worker was ended. @param onHeard told seconds on the way @throws {WorkerError} */
  async make(job: ConvertJob, onHeard: (seconds: number) => void): Promise<ConvertResult> {
    try {
      return await this.client.ask<ConvertResult, number>({ type: 'make', ...job }, { onPart: onHeard });
    } catch (error) {
      if (!(error instanceof WorkerError) || error.code === 'ended') throw error;
      return { type: 'failed', code: 'failed', detail: error.message };
    }
  }

  /** Never rejects, but when the worker was ended. @param onHeard told seconds on the way @throws {WorkerError} */
  async assemble(job: AssembleJob, onHeard: (seconds: number) => void): Promise<AssembleResult> {
    try {
      return await this.client.ask<AssembleResult, number>({ type: 'assemble', ...job }, { onPart: onHeard });
    } catch (error) {
      if (!(error instanceof WorkerError) || error.code === 'ended') throw error;
      return { type: 'failed', code: 'failed', detail: error.message };
    }
  }

  /** Whether files can be encoded by a recipe here. @throws {WorkerError} */
  canEncode(recipe: TwinRecipe): Promise<boolean> {
    return this.client.ask({ type: 'canEncode', recipe });
  }

  end(): void {
    this.client.end();
  }
}
