import { servePictures } from './picture-service';
import type { Port } from './worker-client';

// The DOM library types a worker's scope as a window, whose `postMessage` takes an origin.
servePictures(self as unknown as Port);
