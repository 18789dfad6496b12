import type { ItemId } from '../../items';
import { folderOf } from '../../paths';
import type { PathKeys } from '../path-keys';
import type { There } from '../there/there';

const NO_FOLDERS: ReadonlySet<string> = new Set();

/** Folders that contain files of held-back items. Their pictures stay. */
export class HeldFolders {
  /** The number of held-back items below each folder, and the folders above each of them. */
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
   * An item is held back now, or no longer.
   * @returns keys of the folders that contain its files
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

  /** Keys of all folders above files of an item, including files that were moved on the player. */
  private above(item: ItemId): ReadonlySet<string> {
    const ours = this.there.oursOf.get(item) ?? [];
    const left = (this.there.driftsOf.get(item) ?? []).flatMap(({ placed }) => placed ?? []);
    const folders = new Set<string>();
    for (const { path } of [...ours.map(({ file }) => file), ...left])
      for (let at = folderOf(path); at !== ''; at = folderOf(at)) folders.add(this.keys.of(at));
    return folders;
  }
}
