import type { Port } from '../../src/lib/workers/worker-client';

/** Two ends of a channel in one thread, in place of a worker; what goes through is copied as a browser copies it. */
export function channel(serve: (port: Port) => void): Port {
  const page: Port = { postMessage: () => undefined, onmessage: null };
  const worker: Port = { postMessage: () => undefined, onmessage: null };
  const pass = (to: Port) => (data: unknown) => {
    const copy = structuredClone(data);
    queueMicrotask(() => to.onmessage?.({ data: copy } as MessageEvent));
  };
  page.postMessage = pass(worker);
  worker.postMessage = pass(page);
  serve(worker);
  return page;
}
