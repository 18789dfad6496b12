import { folderOf } from '../../paths';
import type { PathKeys } from '../path-keys';
import type { ThereFile } from './files';

/** The files that a place lists, by the keys under which the player treats paths as equal. */
export class Listing {
  readonly files = new Map<string, ThereFile>();
  /** Further files of a key: a place may distinguish names that the player treats as equal. */
  readonly doubles = new Map<string, ThereFile[]>();
  /** Keys of all folders that contain something. */
  readonly folders = new Set<string>();
  /** Positions of files in the list, by key. */
  private readonly placeOf = new Map<string, number>();

  constructor(list: readonly ThereFile[], keys: PathKeys) {
    for (const [at, file] of list.entries()) {
      const key = keys.of(file.path);
      if (this.files.has(key)) this.doubles.set(key, [...(this.doubles.get(key) ?? []), file]);
      else {
        this.files.set(key, file);
        this.placeOf.set(key, at);
      }
      for (let above = folderOf(file.path); above !== ''; above = folderOf(above)) {
        const folder = keys.of(above);
        if (this.folders.has(folder)) break;
        this.folders.add(folder);
      }
    }
  }

  /** The position in the list of the first file of a key. */
  orderOf(key: string): number {
    return this.placeOf.get(key) ?? 0;
  }

  /** All files of a key. */
  allAt(key: string): readonly ThereFile[] {
    const first = this.files.get(key);
    return first ? [first, ...(this.doubles.get(key) ?? [])] : [];
  }
}

/** Files that are not ours, and the folders that contain some: no file can take the name of such a folder. */
export class ForeignFiles {
  private readonly own = new Set<string>();
  /** The number of them below each folder, by its key. */
  private readonly below = new Map<string, number>();

  constructor(private readonly keys: PathKeys) {}

  add(key: string, path: string): void {
    this.own.add(key);
    this.count(path, 1);
  }

  /** The file became ours. */
  take(key: string, path: string): void {
    if (this.own.delete(key)) this.count(path, -1);
  }

  isFolder(key: string): boolean {
    return this.below.has(key);
  }

  private count(path: string, by: 1 | -1): void {
    for (let at = folderOf(path); at !== ''; at = folderOf(at)) {
      const folder = this.keys.of(at);
      const count = (this.below.get(folder) ?? 0) + by;
      if (count > 0) this.below.set(folder, count);
      else this.below.delete(folder);
    }
  }
}
