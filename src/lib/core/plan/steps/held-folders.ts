import type { ItemId } from '../../items';
import { folderOf } from '../../paths';
import type { PathKeys } from '../path-keys';
import type { There } from '../there/there';

const NO_FOLDERS: ReadonlySet<string> = new Set();

/** Folders that files of items lie below which something blocks: what is shown of such a folder stays. */
export class HeldFolders {
  /** How many of those items each folder has, and which folders each of them is below. */
  private readonly below = new Map<string, number>();
  private readonly foldersOf = new Map<ItemId, ReadonlySet<string>>();

  constructor(
    private readonly there: There,
    private readonly keys: PathKeys,
  ) {}

  has(folder: string): boolean {
    return this.below.has(this.keys.of(folder));
  }

  /**
   * Something blocks an item now, or does no longer.
   * @returns keys of the folders that its files lie below
   */
  change(item: ItemId, held: boolean): ReadonlySet<string> {
    const folders = held ? this.above(item) : (this.foldersOf.get(item) ?? NO_FOLDERS);
    if (held) this.foldersOf.set(item, folders);
    else this.foldersOf.delete(item);
    for (const folder of folders) {
      const count = (this.below.get(folder) ?? 0) + (held ? 1 : -1);
      if (count > 0) this.below.set(folder, count);
      else this.below.delete(folder);
    }
    return folders;
  }

  /** Keys of all folders that something of an item lies below, as we left it or as others left it since. */
  private above(item: ItemId): ReadonlySet<string> {
    const ours = this.there.oursOf.get(item) ?? [];
    const left = (this.there.driftsOf.get(item) ?? []).flatMap(({ placed }) => placed ?? []);
    const folders = new Set<string>();
    for (const { path } of [...ours.map(({ file }) => file), ...left])
      for (let at = folderOf(path); at !== ''; at = folderOf(at)) folders.add(this.keys.of(at));
    return folders;
  }
}
