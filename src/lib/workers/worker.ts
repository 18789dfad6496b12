import type { Port } from './worker-client';
import type { WorkerName } from './new-worker';

type Serve = (port: Port) => void;

/** The service of each worker, loaded when it starts. Chunks that several workers need are loaded once. */
const SERVICES: Readonly<Record<WorkerName, () => Promise<Serve>>> = {
  convert: async () => (await import('./convert-service')).serveConverting,
  feed: async () => (await import('./feed-service')).serveFeeds,
  identify: async () => (await import('./identify-service')).serveIdentifying,
  library: async () => (await import('./library-outside')).serve,
  libraryFile: async () => (await import('./library-file-service')).serveLibraryFiles,
  originals: async () => (await import('./originals-service')).serve,
  parse: async () => (await import('./parse-service')).serveParsing,
  picture: async () => (await import('./picture-service')).servePictures,
  run: async () => (await import('./run-outside')).serve,
  sound: async () => (await import('./sound-service')).serveListening,
};

/** Messages that arrived before the service was loaded. The first one names the service. */
const early: MessageEvent[] = [];

function hold(event: MessageEvent<unknown>): void {
  early.push(event);
  if (early.length === 1) void begin(event.data as WorkerName);
}

async function begin(name: WorkerName): Promise<void> {
  try {
    const serve = await SERVICES[name]();
    self.removeEventListener('message', hold);
    // Names this worker in profiles and for tests.
    performance.mark(name);
    // The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
    serve(self as unknown as Port);
    for (const { data, ports } of early.slice(1))
      self.dispatchEvent(new MessageEvent('message', { data, ports: [...ports] }));
  } catch (error) {
    // The page is not told about rejections in a worker, only about errors of tasks.
    setTimeout(() => {
      throw error;
    });
  }
}

self.addEventListener('message', hold);
