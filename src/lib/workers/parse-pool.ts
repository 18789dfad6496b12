import type { UnreadFile } from '$lib/core/items';
import type { Guess } from '$lib/core/kinds';
import type { MediaRead } from '$lib/formats/reading';
import type { ParseReply, ParseRequest, Port } from './parse-protocol';

export type ReadOutcome =
  | { readonly type: 'read'; readonly read: MediaRead; readonly guess: Guess }
  | { readonly type: 'unread'; readonly code: UnreadFile['code']; readonly detail: string };

/** Files that one worker has at once: reading waits far more than it computes. Few enough that cancelling is felt. */
const AT_ONCE = 8;

type Request = ParseRequest extends infer R ? (R extends ParseRequest ? Omit<R, 'id'> : never) : never;

/** Parsing workers that share one queue. They start with the first file and stay for the next. */
export class ParsePool {
  private readonly workers: { readonly port: Port; busy: number }[] = [];
  private readonly queue: { request: Request; settle: (reply: ParseReply) => void }[] = [];
  private readonly waiting = new Map<number, (reply: ParseReply) => void>();
  private nextId = 1;

  /**
   * @param makePort starts one worker
   * @param size how many may run at once
   */
  constructor(
    private readonly makePort: () => Port,
    private readonly size: number,
  ) {}

  /** Starts the workers before there is anything to do, since loading the parsers takes its time. */
  warm(): void {
    while (this.workers.length < this.size) this.addWorker();
  }

  /** Reads one file. Never rejects: a file that cannot be read says why. */
  async read(path: string, file: Blob): Promise<ReadOutcome> {
    const reply = await this.ask({ type: 'read', path, file });
    if (reply.type === 'read') return { type: 'read', read: reply.read, guess: reply.guess };
    if (reply.type === 'unread') return { type: 'unread', code: reply.code, detail: reply.detail };
    throw new TypeError(`a read was answered by ${reply.type}`);
  }

  /** One of a file's pictures, or null when it has none at this place. */
  async picture(path: string, file: Blob, index: number): Promise<Blob | null> {
    const reply = await this.ask({ type: 'picture', path, file, index });
    return reply.type === 'picture'
      ? new Blob([reply.bytes as Uint8Array<ArrayBuffer>], { type: reply.mime })
      : null;
  }

  private ask(request: Request): Promise<ParseReply> {
    return new Promise((settle) => {
      this.queue.push({ request, settle });
      this.feed();
    });
  }

  private feed(): void {
    while (this.queue.length > 0) {
      const worker = this.freeWorker();
      const next = worker && this.queue.shift();
      if (!next) return;
      const id = this.nextId++;
      worker.busy++;
      this.waiting.set(id, next.settle);
      worker.port.postMessage({ ...next.request, id });
    }
  }

  /** The least busy worker with room; a new one while there may be more. */
  private freeWorker(): (typeof this.workers)[number] | null {
    const idle = this.workers.find(({ busy }) => busy === 0);
    if (idle) return idle;
    if (this.workers.length < this.size) return this.addWorker();
    const least = this.workers.reduce((a, b) => (b.busy < a.busy ? b : a));
    return least.busy < AT_ONCE ? least : null;
  }

  private addWorker(): (typeof this.workers)[number] {
    const worker = { port: this.makePort(), busy: 0 };
    worker.port.onmessage = ({ data }: MessageEvent<ParseReply>) => {
      worker.busy--;
      const settle = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      settle?.(data);
      this.feed();
    };
    this.workers.push(worker);
    return worker;
  }
}

/** The pool of this page. */
export function createParsePool(): ParsePool {
  const size = Math.max(2, Math.min(navigator.hardwareConcurrency || 2, 6));
  return new ParsePool(
    () => new Worker(new URL('./parse-worker.ts', import.meta.url), { type: 'module' }),
    size,
  );
}
