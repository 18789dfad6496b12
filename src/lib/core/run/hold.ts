import { folderOf, nameOf } from '../paths';
import { HOLD_FOLDER } from '../plan';
import { pruneFolders } from './effects';
import type { Holding, Store } from './store';

/** How a place keeps files that its runs set aside. */
export const holdingOf = <Content>(store: Store<Content>): Holding =>
  store.holding ?? new FolderHolding(store);

/**
 * All files that a run keeps for itself on a place are below one folder named by its id: files being written until they
 * are checked, and replaced or removed files until the run is accepted. Everything there belongs to the run and can be
 * deleted.
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

  /** Folders are removed once a run holds nothing more, innermost first. */
  async clear(run: string, held: readonly string[]): Promise<void> {
    const own = folderOfRun(run);
    const inner = new Set([this.stage(run, ''), ...held].map(folderOf));
    // Journals of earlier versions use deeper folders.
    for (const folder of [...inner])
      for (let at = folderOf(folder); at.length > own.length; at = folderOf(at)) inner.add(at);
    const deepestFirst = [...inner].sort((a, b) => b.length - a.length);
    await pruneFolders([...deepestFirst, own, HOLD_FOLDER], this.store);
  }
}

const folderOfRun = (run: string): string => `${HOLD_FOLDER}/${run}`;
