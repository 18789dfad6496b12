import { storeOf } from '$lib/io/stores/store-of';
import { checkWritten, makeContent } from './run-effects';
import type { CancelRun, RunRequest } from './run-protocol';
import { serveRuns } from './run-service';
import type { Port } from './worker-client';

export function serve(port: Port): void {
  const cancel = serveRuns(port, { storeOf, makeContent, checkWritten });
  self.addEventListener('message', ({ data }: MessageEvent<RunRequest | CancelRun>) => {
    if (data.type === 'cancel') cancel();
  });
}
