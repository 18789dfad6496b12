/* Files that pass, in the browser's private file system: a folder for each worker, which holds a lock while it lives. */

import { newId } from './new-id';

const FOLDER = 'scratch';
/** Temporary files of one worker at a time: what is made of one is written before several more are requested. */
const MOST_FILES = 4;

const lockOf = (worker: string) => `lectorum-scratch-${worker}`;

let own: Promise<FileSystemDirectoryHandle> | null = null;
const names: string[] = [];

/** A file that is gone once this worker has made a few more of them, or ends. */
export async function createScratch(): Promise<FileSystemFileHandle> {
  const folder = await (own ??= ownFolder());
  while (names.length >= MOST_FILES) await folder.removeEntry(names.shift() as string).catch(() => undefined);
  const name = newId();
  names.push(name);
  return folder.getFileHandle(name, { create: true });
}

async function ownFolder(): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory();
  const all = await root.getDirectoryHandle(FOLDER, { create: true });
  const name = newId();
  await new Promise<void>((held, failed) => {
    // Never answered: the lock ends with the worker.
    const forever = () => {
      held();
      return new Promise(() => undefined);
    };
    navigator.locks.request(lockOf(name), forever).catch(failed);
  });
  for await (const other of all.keys())
    await navigator.locks.request(lockOf(other), { ifAvailable: true }, async (lock) => {
      if (lock) await all.removeEntry(other, { recursive: true }).catch(() => undefined);
    });
  return all.getDirectoryHandle(name, { create: true });
}
