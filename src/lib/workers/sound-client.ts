import type { FormatId } from '$lib/core/items';
import { Asker } from './asker';
import type { Listened, SoundRequest } from './sound-protocol';

/** The listening worker of this page; it starts with the first file. */
export class SoundClient {
  private readonly asker = new Asker<SoundRequest>(
    () => new Worker(new URL('./sound-worker.ts', import.meta.url), { type: 'module' }),
  );

  /** @param whole listens to the end, to know whether all of it decodes. @throws {Error} saying why nothing was heard */
  listen(file: Blob, whole = false): Promise<Listened> {
    return this.asker.ask({ type: 'listen', file, whole });
  }

  /** Digest of a file's sound and picture data, tags left aside. @throws {Error} when its structure cannot be read */
  digest(file: Blob, format: FormatId): Promise<string> {
    return this.asker.ask({ type: 'digest', file, format });
  }
}
