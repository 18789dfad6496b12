import { serveFeeds } from './feed-service';
import type { Port } from './worker-client';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
serveFeeds(self as unknown as Port);
