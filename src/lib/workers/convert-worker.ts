import { serveConverting } from './convert-service';
import type { Port } from './worker-client';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
serveConverting(self as unknown as Port);
