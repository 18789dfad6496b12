import { serveLibraryFiles } from './library-file-service';
import type { Port } from './worker-client';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
serveLibraryFiles(self as unknown as Port);
