import type { TargetId } from '$lib/core/library';
import { LibraryStorage } from '$lib/io/storage';

/** Milliseconds that a run of another tab is given to come to its end. */
const PATIENCE = 10_000;

/** Another tab's run is under way at the place. */
export class RunElsewhereError extends Error {
  override readonly name = 'RunElsewhereError';
}

/**
 * One run at a target, whichever tab it began in: a tab that took the library over waits for the other's step. The
 * storage can be written to while the lock is held, and not after.
 * @throws {RunElsewhereError} when the other does not come to its end
 */
export async function withRunLock<T>(
  library: string,
  target: TargetId,
  act: (storage: LibraryStorage) => Promise<T>,
): Promise<T> {
  let holds = false;
  const storage = new LibraryStorage(library, () => holds);
  const locked = async (): Promise<T> => {
    holds = true;
    try {
      return await act(storage);
    } finally {
      holds = false;
    }
  };
  if (!globalThis.navigator?.locks) return locked();
  try {
    const signal = AbortSignal.timeout(PATIENCE);
    return await navigator.locks.request(`lectorum-run-${library}-${target}`, { signal }, locked);
  } catch (error) {
    if (error instanceof DOMException && error.name === 'TimeoutError')
      throw new RunElsewhereError('a run of another tab is under way there');
    throw error;
  }
}
