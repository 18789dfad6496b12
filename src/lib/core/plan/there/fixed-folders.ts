import { folderOf } from '../../paths';
import type { PathKeys } from '../path-keys';

/** Folders above files that stay where they are. They keep their spelling, as the first of these files has it. */
export class FixedFolders {
  /** Spellings of each folder, by the positions of the files in the list. */
  private readonly spellings = new Map<string, Map<number, string>>();

  constructor(private readonly keys: PathKeys) {}

  /** The fixed spelling of a folder; null if none is fixed. */
  spelling(key: string): string | null {
    const all = this.spellings.get(key);
    if (!all) return null;
    let first = Infinity;
    let spelled: string | null = null;
    for (const [at, folder] of all) if (at < first) [first, spelled] = [at, folder];
    return spelled;
  }

  /** @param at its position in the list */
  hold(path: string, at: number): void {
    for (const [key, folder] of this.above(path)) {
      const all = this.spellings.get(key);
      if (all) all.set(at, folder);
      else this.spellings.set(key, new Map([[at, folder]]));
    }
  }

  /** @returns keys of the folders above the file */
  letGo(path: string, at: number): readonly string[] {
    return this.above(path).flatMap(([key]) => {
      const all = this.spellings.get(key);
      if (!all?.delete(at)) return [];
      if (all.size === 0) this.spellings.delete(key);
      return key;
    });
  }

  private above(path: string): (readonly [key: string, folder: string])[] {
    const folders: [string, string][] = [];
    for (let at = folderOf(path); at !== ''; at = folderOf(at)) folders.push([this.keys.of(at), at]);
    return folders;
  }
}
