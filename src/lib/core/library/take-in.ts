import { extensionOf, folderOf, stemOf, type Item, type SourceId } from '../items';

/** A file as a walk through a folder finds it. */
export interface FoundFile {
  readonly path: string;
  readonly size: number;
  readonly modified: number;
}

export interface Sorted<F extends FoundFile> {
  /** Not in the library yet. */
  readonly added: readonly F[];
  /** In the library, with other bytes now. */
  readonly changed: readonly { readonly file: F; readonly item: Item }[];
  readonly known: number;
}

/** Sorts the files of one source by what the library has of it already. */
export function sortFound<F extends FoundFile>(
  files: readonly F[],
  source: SourceId,
  items: readonly Item[],
): Sorted<F> {
  const have = new Map(items.filter((item) => item.source === source).map((item) => [item.path, item]));
  const added: F[] = [];
  const changed: { file: F; item: Item }[] = [];
  let known = 0;
  for (const file of files) {
    const item = have.get(file.path);
    if (!item) added.push(file);
    else if (item.size === file.size && item.modified === file.modified) known++;
    else changed.push({ file, item });
  }
  return { added, changed, known };
}

/** Sidecars that lie beside media: of the same stem, or the only one in a folder with one media file. */
export function findBeside(
  mediaPaths: readonly string[],
  otherPaths: readonly string[],
): ReadonlyMap<string, readonly string[]> {
  const inFolder = new Map<string, string[]>();
  for (const path of otherPaths) {
    if (extensionOf(path) !== 'xml') continue;
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
