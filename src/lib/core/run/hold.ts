import { folderOf, nameOf } from '../paths';
import { HOLD_FOLDER } from '../plan';
import { pruneFolders } from './effects';
import type { Holding, Store } from './store';

/** How a place keeps what its runs put aside. */
export const holdingOf = <Content>(store: Store<Content>): Holding =>
  store.holding ?? new FolderHolding(store);

/**
 * Everything a run keeps for itself on a place lies below one folder of its own id, where no other hand
 * has anything: what is being written, until it is proven, and what is replaced or removed, until the run
 * is taken as good. So whatever is found there is the run's, and may be cleared.
 */
class FolderHolding<Content> implements Holding {
  constructor(private readonly store: Store<Content>) {}

  stage(run: string, path: string): string {
    return `${folderOfRun(run)}/new/${nameOf(path)}`;
  }

  hold(run: string, step: number, path: string): string {
    return `${folderOfRun(run)}/${step}/${nameOf(path)}`;
  }

  async release(name: string): Promise<void> {
    await this.store.removeEmptyFolder(folderOf(name));
  }

  /** Folders go once a run has nothing more to hold, innermost first. */
  async clear(run: string, held: readonly string[]): Promise<void> {
    const own = folderOfRun(run);
    const inner = new Set([this.stage(run, ''), ...held].map(folderOf));
    // A journal of an earlier version holds deeper below.
    for (const folder of [...inner])
      for (let at = folderOf(folder); at.length > own.length; at = folderOf(at)) inner.add(at);
    const deepestFirst = [...inner].sort((a, b) => b.length - a.length);
    await pruneFolders([...deepestFirst, own, HOLD_FOLDER], this.store);
  }
}

const folderOfRun = (run: string): string => `${HOLD_FOLDER}/${run}`;
