import type { Port } from './worker-client';

export type WorkerName =
  | 'convert'
  | 'feed'
  | 'identify'
  | 'library'
  | 'libraryFile'
  | 'originals'
  | 'parse'
  | 'picture'
  | 'run'
  | 'sound';

/** Starts a worker. All of them begin in one file, so that what they share is built and loaded once. */
export function newWorker(name: WorkerName): Port {
  const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
  worker.postMessage(name);
  return worker;
}
