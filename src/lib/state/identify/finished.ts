import type { Gathering, ReferenceRelease } from '$lib/core/identify';
import type { Item, ItemId } from '$lib/core/items';
import { folderOf } from '$lib/core/paths';
import type { Library } from '../library.svelte';

/** An entry of a release that an item is matched with. */
interface MatchedEntry {
  readonly item: ItemId;
  readonly release: string;
  readonly entry: string;
}

const placeOf = ({ source, path }: Item): string => `${source}\n${folderOf(path)}`;

/** Which releases are complete in a folder. The library is gone through once, and again only after it changed. */
export class FinishedReleases {
  private byFolder: ReadonlyMap<string, readonly MatchedEntry[]> | null = null;

  constructor(private readonly library: Library) {
    library.onChange(() => (this.byFolder = null));
  }

  /**
   * Releases whose every entry is matched by other files in the folders of a gathering: what is left over there cannot be
   * part of them. A copy of the release in another folder can.
   */
  around({ items }: Gathering): { has(release: ReferenceRelease): boolean } {
    this.byFolder ??= this.gather();
    const own = new Set(items);
    const matched = new Map<string, Set<string>>();
    for (const place of new Set(this.library.findAll(items).map(placeOf)))
      for (const { item, release, entry } of this.byFolder.get(place) ?? [])
        if (!own.has(item)) matched.set(release, (matched.get(release) ?? new Set()).add(entry));
    return {
      has: ({ id, entries }) => {
        const known = matched.get(id);
        return known !== undefined && entries.every((entry) => known.has(entry.id));
      },
    };
  }

  private gather(): ReadonlyMap<string, readonly MatchedEntry[]> {
    const byFolder = new Map<string, MatchedEntry[]>();
    for (const item of this.library.items) {
      const { identity } = item;
      if (identity?.type !== 'matched') continue;
      const own = { item: item.id, release: identity.release, entry: identity.entry };
      const there = byFolder.get(placeOf(item));
      if (there) there.push(own);
      else byFolder.set(placeOf(item), [own]);
    }
    return byFolder;
  }
}
