import type { ParseRequest, PictureOf, PictureOutcome, ReadOutcome } from './parse-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, WorkerError, type Port, type Unnumbered } from './worker-client';

/** Files that one worker has at once: reading waits far more than it computes. Few enough that cancelling is felt. */
const AT_ONCE = 8;
/** Milliseconds for a file, in a worker that it shares with others or has to itself. */
const LIMIT = 30_000;

interface Task {
  readonly request: Unnumbered<ParseRequest>;
  readonly resolve: (value: never) => void;
  readonly reject: (error: WorkerError) => void;
  /** It was in a worker that fell over or got lost: it goes alone next, so that others do not fall with it. */
  readonly alone: boolean;
}

/** Parsing workers that share one queue. They start with the first file and stay for the next. */
export class ParsePool {
  private readonly workers: WorkerClient<ParseRequest>[] = [];
  private readonly queue: Task[] = [];
  /** The worker that has a file to itself now. */
  private trying: WorkerClient<ParseRequest> | null = null;
  private ended = false;

  /**
   * @param makePort starts one worker
   * @param size how many may run at once
   * @param limit milliseconds that one file may take
   */
  constructor(
    private readonly makePort: () => Port,
    private readonly size: number,
    private readonly limit = LIMIT,
  ) {}

  /** Starts the workers before there is anything to do, since loading the parsers takes its time. */
  warm(): void {
    while (this.workers.length < this.size) void this.addWorker().generation;
  }

  /**
   * Reads one file. Rejects only when the pool is ended: a file that cannot be read says why.
   * @param evenCut takes what is there of a file that is cut short
   */
  async read(path: string, file: Blob, evenCut = false): Promise<ReadOutcome> {
    try {
      return await this.ask<ReadOutcome>({ type: 'read', path, file, evenCut });
    } catch (error) {
      if (!(error instanceof WorkerError) || error.code === 'ended') throw error;
      const code = error.code === 'late' ? 'tooMuch' : 'unknownFormat';
      return { type: 'unread', code, detail: error.message };
    }
  }

  /** One of a file's pictures, or null when it has no such one or cannot be read. */
  async picture(file: Blob, of: PictureOf): Promise<Blob | null> {
    const found = await this.ask<PictureOutcome>({ type: 'picture', file, of }).catch(() => null);
    return found && new Blob([found.bytes as Uint8Array<ArrayBuffer>], { type: found.mime });
  }

  /** Ends the workers. Whoever waits is told. */
  end(): void {
    this.ended = true;
    for (const { reject } of this.queue.splice(0)) reject(new WorkerError('ended', 'the workers were ended'));
    for (const worker of this.workers) worker.end();
  }

  private ask<Value>(request: Task['request'], alone = false): Promise<Value> {
    return new Promise<Value>((resolve, reject) => {
      if (this.ended) return reject(new WorkerError('ended', 'the workers were ended'));
      const task: Task = { request, resolve, reject, alone };
      if (alone) this.queue.unshift(task);
      else this.queue.push(task);
      this.feed();
    });
  }

  private feed(): void {
    while (this.queue.length > 0) {
      const task = this.queue[0] as Task;
      const worker = task.alone ? this.idleWorker() : this.freeWorker();
      if (!worker) return;
      this.queue.shift();
      void this.give(worker, task);
    }
  }

  private async give(worker: WorkerClient<ParseRequest>, task: Task): Promise<void> {
    if (task.alone) this.trying = worker;
    try {
      task.resolve(await worker.ask<never>(task.request, { limit: this.limit }));
    } catch (error) {
      if (!(error instanceof WorkerError)) throw error;
      const isGuilty = task.alone || error.code === 'failed' || error.code === 'ended';
      if (isGuilty) task.reject(error);
      else this.ask(task.request, true).then(task.resolve as (value: unknown) => void, task.reject);
    } finally {
      if (task.alone) this.trying = null;
      this.feed();
    }
  }

  /** A worker with nothing to do, for a file that must be alone; one at a time. */
  private idleWorker(): WorkerClient<ParseRequest> | null {
    if (this.trying) return null;
    return this.workers.find(({ busy }) => busy === 0) ?? (this.mayGrow() ? this.addWorker() : null);
  }

  /** The least busy worker with room; a new one while there may be more. */
  private freeWorker(): WorkerClient<ParseRequest> | null {
    const others = this.workers.filter((worker) => worker !== this.trying);
    const idle = others.find(({ busy }) => busy === 0);
    if (idle) return idle;
    if (this.mayGrow()) return this.addWorker();
    if (others.length === 0) return null;
    const least = others.reduce((a, b) => (b.busy < a.busy ? b : a));
    return least.busy < AT_ONCE ? least : null;
  }

  private mayGrow(): boolean {
    return this.workers.length < this.size;
  }

  private addWorker(): WorkerClient<ParseRequest> {
    const worker = new WorkerClient<ParseRequest>(this.makePort);
    this.workers.push(worker);
    return worker;
  }
}

/** The pool of this page. */
export function createParsePool(): ParsePool {
  const size = Math.max(2, Math.min(navigator.hardwareConcurrency || 2, 6));
  return new ParsePool(() => newWorker('parse'), size);
}
