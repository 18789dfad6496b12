/** The end of a channel to a worker. Tests stand in for workers with ends of their own. */
export interface Port {
  postMessage(message: unknown, transfer?: Transferable[]): void;
  onmessage: ((event: MessageEvent) => void) | null;
  /** Told when the worker fell over, or never came up. */
  onerror?: ((event: ErrorEvent) => void) | null;
  onmessageerror?: ((event: MessageEvent) => void) | null;
  terminate?(): void;
}

/** A request without its id: the client gives it one. */
export type Unnumbered<R> = R extends { readonly id: number } ? Omit<R, 'id'> : never;

/** What a worker says to a request: any number of parts, then its answer or why there is none. */
export type Reply<Value = unknown, Part = unknown> =
  /** Said first: the worker holds a lock of this name as long as it lives. */
  | { readonly type: 'alive'; readonly lock: string }
  | { readonly type: 'part'; readonly id: number; readonly part: Part }
  | { readonly type: 'answered'; readonly id: number; readonly value: Value }
  | { readonly type: 'failed'; readonly id: number; readonly detail: string };

/**
 * Why a worker gave no answer. `failed`: it said so itself. `died`: it fell over. `late`: it took longer than
 * it was given, and was ended. `ended`: its library was closed.
 */
export class WorkerError extends Error {
  override readonly name = 'WorkerError';
  constructor(
    readonly code: 'failed' | 'died' | 'late' | 'ended',
    detail: string,
  ) {
    super(detail);
  }
}

export interface AskOptions<Part> {
  readonly transfer?: Transferable[];
  /** Milliseconds until the worker counts as lost in its work. */
  readonly limit?: number;
  readonly onPart?: (part: Part) => void;
  /** The start of the worker that this request counts on, as `generation` told it: another one does not do. */
  readonly generation?: number;
}

interface Waiting {
  readonly resolve: (value: unknown) => void;
  readonly reject: (error: WorkerError) => void;
  readonly onPart: ((part: never) => void) | undefined;
  readonly timer: ReturnType<typeof setTimeout> | null;
}

/**
 * The one way to a worker. It starts with the first question, and again with the next one after it fell over or
 * was ended for taking too long; whoever waited then is told. Nothing waits for ever.
 */
export class WorkerClient<Request extends { readonly id: number }> {
  private port: Port | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private nextId = 1;
  private starts = 0;
  private closed = false;

  constructor(private readonly makePort: () => Port) {}

  /** How many requests wait for an answer. */
  get busy(): number {
    return this.waiting.size;
  }

  /** Counts the worker's starts, starting it where need be: what an earlier one was told, a later one does not know. */
  get generation(): number {
    this.start();
    return this.starts;
  }

  /** @throws {WorkerError} */
  ask<Value, Part = never>(
    request: Unnumbered<Request>,
    { transfer = [], limit, onPart, generation }: AskOptions<Part> = {},
  ): Promise<Value> {
    const id = this.nextId++;
    return new Promise<Value>((resolve, reject) => {
      if (this.closed) return reject(new WorkerError('ended', 'the worker was ended'));
      const port = this.start();
      if (generation !== undefined && generation !== this.starts)
        return reject(new WorkerError('died', 'the worker was started anew in between'));
      const timer = limit === undefined ? null : setTimeout(() => this.giveUp(limit), limit);
      this.waiting.set(id, { resolve: resolve as (value: unknown) => void, reject, onPart, timer });
      port.postMessage({ ...request, id }, transfer);
    });
  }

  /** Sends what needs no answer, if the worker is there to take it. */
  tell(message: unknown): void {
    this.port?.postMessage(message);
  }

  /** Ends the worker for good. Whoever waits is told. */
  end(): void {
    this.closed = true;
    this.drop('ended', 'the worker was ended');
  }

  private start(): Port {
    if (this.port) return this.port;
    const port = this.makePort();
    this.port = port;
    this.starts++;
    port.onmessage = ({ data }: MessageEvent<Reply>) =>
      data.type === 'alive' ? whenFree(data.lock, () => fell('the worker ended')) : this.take(data);
    const fell = (why: string) => {
      // One that was ended already has nothing more to say.
      if (this.port === port) this.drop('died', why);
    };
    port.onerror = (event) => {
      event.preventDefault?.();
      fell(event.message || 'the worker fell over');
    };
    port.onmessageerror = () => fell('the worker answered in an unknown form');
    return port;
  }

  private take(reply: Exclude<Reply, { type: 'alive' }>): void {
    const waiting = this.waiting.get(reply.id);
    if (!waiting) return;
    if (reply.type === 'part') return waiting.onPart?.(reply.part as never);
    this.waiting.delete(reply.id);
    if (waiting.timer) clearTimeout(waiting.timer);
    if (reply.type === 'answered') waiting.resolve(reply.value);
    else waiting.reject(new WorkerError('failed', reply.detail));
  }

  private giveUp(limit: number): void {
    this.drop('late', `no answer within ${Math.round(limit / 1000)} seconds`);
  }

  private drop(code: WorkerError['code'], detail: string): void {
    const lost = [...this.waiting.values()];
    this.waiting.clear();
    this.port?.terminate?.();
    this.port = null;
    for (const { timer, reject } of lost) {
      if (timer) clearTimeout(timer);
      reject(new WorkerError(code, detail));
    }
  }
}

/** Calls once nobody holds a lock any more: a browser that ends a worker tells nobody, but frees what it held. */
function whenFree(lock: string, call: () => void): void {
  void navigator.locks.request(lock, call);
}

/** Holds a lock as long as this worker lives, and says so. */
function tellLife(port: Port): void {
  // Tests serve in one thread, where there are no locks.
  if (!globalThis.navigator?.locks) return;
  const lock = `lectorum-worker-${crypto.randomUUID()}`;
  void navigator.locks.request(lock, () => {
    port.postMessage({ type: 'alive', lock } satisfies Reply);
    return new Promise(() => {});
  });
}

/** The worker's side: answers every request with what `answer` gives, or with why it failed. */
export function serveAnswers<Request extends { readonly id: number }, Part = never>(
  port: Port,
  answer: (request: Request, tellPart: (part: Part) => void) => unknown,
): void {
  tellLife(port);
  port.onmessage = ({ data }: MessageEvent<Request>) => {
    void (async () => {
      const { id } = data;
      try {
        const value = await answer(data, (part) => port.postMessage({ type: 'part', id, part }));
        port.postMessage({ type: 'answered', id, value } satisfies Reply);
      } catch (error) {
        const detail = error instanceof Error ? error.message : String(error);
        port.postMessage({ type: 'failed', id, detail } satisfies Reply);
      }
    })();
  };
}
