import { storeOf } from '$lib/io/stores/store-of';
import { checkWritten, makeContent } from './run-effects';
import type { CancelRun, RunRequest } from './run-protocol';
import { serveRuns } from './run-service';
import type { Port } from './worker-client';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
const cancel = serveRuns(self as unknown as Port, { storeOf, makeContent, checkWritten });
self.addEventListener('message', ({ data }: MessageEvent<RunRequest | CancelRun>) => {
  if (data.type === 'cancel') cancel();
});
