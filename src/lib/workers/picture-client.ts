import type { PictureOrder, ReadyPicture } from '$lib/io/pictures';
import type { Frame, PictureRequest } from './picture-protocol';
import { newWorker } from './new-worker';
import { WorkerClient } from './worker-client';

/** Milliseconds for a picture of the largest size on the slowest machine, or a frame of the longest film. */
const LIMIT = 60_000;

/** The drawing worker of this page; it starts with the first picture. */
export class PictureClient {
  private readonly client = new WorkerClient<PictureRequest>(() => newWorker('picture'));

  end(): void {
    this.client.end();
  }

  /** @throws {Error} when the browser cannot show or draw it */
  make(blob: Blob, order: PictureOrder): Promise<ReadyPicture> {
    return this.client.ask({ type: 'make', blob, order }, { limit: LIMIT });
  }

  /** The frame of a file that is shown at a time in seconds. @throws {Error} saying why there is none */
  frame(file: Blob, seconds: number): Promise<Frame> {
    return this.client.ask({ type: 'frame', file, seconds }, { limit: LIMIT });
  }
}
