import type { Port } from './worker-client';
import { serveParsing } from './parse-service';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
serveParsing(self as unknown as Port);
