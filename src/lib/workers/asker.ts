import type { Port } from './parse-protocol';

/** A request without its id: the asker gives it one. */
export type Unnumbered<R> = R extends { readonly id: number } ? Omit<R, 'id'> : never;

/** What a worker that answers each request once replies with. */
export type Answer<T> =
  | { readonly type: 'answered'; readonly id: number; readonly value: T }
  | { readonly type: 'failed'; readonly id: number; readonly detail: string };

/** Asks one worker, which starts with the first question, and keeps questions and answers together. */
export class Asker<Request extends { readonly id: number }> {
  private port: Port | null = null;
  private readonly waiting = new Map<number, (answer: Answer<unknown>) => void>();
  private nextId = 1;

  constructor(private readonly makePort: () => Port) {}

  /** @throws {Error} with the worker's own words when it failed */
  ask<T>(request: Unnumbered<Request>, transfer: Transferable[] = []): Promise<T> {
    const id = this.nextId++;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, (answer) =>
        answer.type === 'answered' ? resolve(answer.value as T) : reject(new Error(answer.detail)),
      );
      this.tell({ ...request, id }, transfer);
    });
  }

  /** Sends what needs no answer. */
  tell(message: unknown, transfer: Transferable[] = []): void {
    if (!this.port) {
      this.port = this.makePort();
      this.port.onmessage = ({ data }: MessageEvent<Answer<unknown>>) => {
        const settle = this.waiting.get(data.id);
        this.waiting.delete(data.id);
        settle?.(data);
      };
    }
    this.port.postMessage(message, transfer);
  }
}

/** The worker's side: answers every request with what `answer` gives, or with why it failed. */
export function serveAnswers<Request extends { readonly id: number }>(
  port: Port,
  answer: (request: Request) => unknown,
): void {
  port.onmessage = ({ data }: MessageEvent<Request>) => {
    void (async () => {
      try {
        const value = await answer(data);
        port.postMessage({ type: 'answered', id: data.id, value } satisfies Answer<unknown>);
      } catch (error) {
        const detail = error instanceof Error ? error.message : String(error);
        port.postMessage({ type: 'failed', id: data.id, detail } satisfies Answer<unknown>);
      }
    })();
  };
}
