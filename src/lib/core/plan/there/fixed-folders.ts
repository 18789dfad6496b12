import { folderOf } from '../../paths';
import type { PathKeys } from '../path-keys';

/**
 * Folders that hold files which stay where they are, with all above them: their spelling stands, as the first of these files
 * spells it.
 */
export class FixedFolders {
  /** Spellings of each folder by the places of the files in their list. */
  private readonly spellings = new Map<string, Map<number, string>>();

  constructor(private readonly keys: PathKeys) {}

  /** As a folder is spelled there; null where nothing holds it. */
  spelling(key: string): string | null {
    const all = this.spellings.get(key);
    if (!all) return null;
    let first = Infinity;
    let spelled: string | null = null;
    for (const [at, folder] of all) if (at < first) [first, spelled] = [at, folder];
    return spelled;
  }

  /** @param at its place in the list */
  hold(path: string, at: number): void {
    for (const [key, folder] of this.above(path)) {
      const all = this.spellings.get(key);
      if (all) all.set(at, folder);
      else this.spellings.set(key, new Map([[at, folder]]));
    }
  }

  /** @returns keys of the folders that it held */
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
