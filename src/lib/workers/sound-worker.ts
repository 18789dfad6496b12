import type { Port } from './worker-client';
import { serveListening } from './sound-service';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
serveListening(self as unknown as Port);
