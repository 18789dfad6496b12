import type { Port } from './parse-protocol';
import { serveListening } from './sound-service';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
serveListening(self as unknown as Port);
