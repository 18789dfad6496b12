import { folderOf, nameOf } from '../paths';
import { HOLD_FOLDER } from '../plan';

/*
 * Everything a run keeps for itself on a place lies below one folder of its own id, where no other hand
 * has anything: what is being written, until it is proven, and what is replaced or removed, until the run
 * is taken as good. So whatever is found there is the run's, and may be cleared.
 */

const folderOfRun = (runId: string): string => `${HOLD_FOLDER}/${runId}`;

/** Where a run holds what stood in the way of its step at `index`. */
export function holdPath(runId: string, index: number, path: string): string {
  return `${folderOfRun(runId)}/${index}/${nameOf(path)}`;
}

/** Where a file is written and proven before it gets its place. One at a time lies there. */
export function stagePath(runId: string, path: string): string {
  return `${folderOfRun(runId)}/new/${nameOf(path)}`;
}

/** Folders that go once a run has nothing more to hold, innermost first. */
export function holdFolders(runId: string, held: Iterable<string>): readonly string[] {
  const inner = new Set([stagePath(runId, ''), ...held].map(folderOf));
  // A journal of an earlier version holds deeper below.
  for (const folder of [...inner])
    for (let at = folderOf(folder); at.length > folderOfRun(runId).length; at = folderOf(at)) inner.add(at);
  const deepestFirst = [...inner].sort((a, b) => b.length - a.length);
  return [...deepestFirst, folderOfRun(runId), HOLD_FOLDER];
}
