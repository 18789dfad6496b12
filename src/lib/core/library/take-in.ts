import type { Item } from '../items';
import { folderOf, stemOf } from '../paths';

/** A file found in a folder. */
export interface FoundFile {
  readonly path: string;
  readonly size: number;
  readonly modified: number;
}

/** Whether a file is the one that the item was taken from. */
export function isSameFile(file: FoundFile, item: Item): boolean {
  return file.path === item.path && file.size === item.size && file.modified === item.modified;
}

/** Sidecars beside media: those of the same stem, or the only one in a folder with one media file. */
export function findBeside(
  mediaPaths: readonly string[],
  otherPaths: readonly string[],
  isSidecar: (path: string) => boolean,
): ReadonlyMap<string, readonly string[]> {
  const inFolder = new Map<string, string[]>();
  for (const path of otherPaths) {
    if (!isSidecar(path)) continue;
    const folder = folderOf(path);
    inFolder.set(folder, [...(inFolder.get(folder) ?? []), path]);
  }
  if (inFolder.size === 0) return new Map();
  const mediaCount = new Map<string, number>();
  for (const path of mediaPaths) mediaCount.set(folderOf(path), (mediaCount.get(folderOf(path)) ?? 0) + 1);
  const beside = new Map<string, readonly string[]>();
  for (const path of mediaPaths) {
    const folder = folderOf(path);
    const near = inFolder.get(folder) ?? [];
    const own = near.filter((other) => stemOf(other) === stemOf(path));
    const lone = mediaCount.get(folder) === 1 ? near : own;
    if (lone.length > 0) beside.set(path, lone);
  }
  return beside;
}
