import type { Gathering, ReferenceRelease } from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';
import { folderOf } from '$lib/core/paths';
import type { Library } from '../library.svelte';

/**
 * Releases whose every entry is matched by other files in the folders of a gathering: what is left over there cannot be
 * part of them. A copy of the release in another folder can.
 */
export function finishedAround(
  library: Library,
  gathering: Gathering,
): { has(release: ReferenceRelease): boolean } {
  const own = new Set<ItemId>(gathering.items);
  const items = library.findAll(own);
  const places = new Map<string, Set<string>>();
  for (const { source, path } of items) {
    const folders = places.get(source) ?? new Set<string>();
    places.set(source, folders.add(folderOf(path)));
  }
  const matched = new Map<string, Set<string>>();
  for (const { id, source, path, identity } of library.items) {
    if (identity?.type !== 'matched' || own.has(id)) continue;
    if (!places.get(source)?.has(folderOf(path))) continue;
    const entries = matched.get(identity.release) ?? new Set<string>();
    matched.set(identity.release, entries.add(identity.entry));
  }
  return {
    has: ({ id, entries }) => {
      const known = matched.get(id);
      return known !== undefined && entries.every((entry) => known.has(entry.id));
    },
  };
}
