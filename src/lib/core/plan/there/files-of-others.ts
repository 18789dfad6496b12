import { folderOf } from '../../paths';
import type { PathKeys } from '../path-keys';
import type { PlacedFile, ThereFile } from './files';

/** Foreign files of a place. They are counted on demand. */
export class FilesOfOthers {
  private counts: ReadonlyMap<string, number> | null = null;

  constructor(
    private readonly there: readonly ThereFile[],
    private readonly placed: readonly PlacedFile[],
    private readonly keys: PathKeys,
  ) {}

  /** The number of them in a folder, given by the key of its path. */
  in(key: string): number {
    return this.byFolder().get(key) ?? 0;
  }

  all(): number {
    return [...this.byFolder().values()].reduce((sum, count) => sum + count, 0);
  }

  private byFolder(): ReadonlyMap<string, number> {
    if (this.counts) return this.counts;
    const counts = new Map<string, number>();
    const own = new Set(this.placed.map(({ path }) => this.keys.of(path)));
    for (const { path } of this.there) {
      if (own.has(this.keys.of(path))) continue;
      const folder = this.keys.of(folderOf(path));
      counts.set(folder, (counts.get(folder) ?? 0) + 1);
    }
    this.counts = counts;
    return counts;
  }
}
