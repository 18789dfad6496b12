import type { Port } from './parse-protocol';
import { serveParsing } from './parse-service';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
serveParsing(self as unknown as Port);
