import { fieldText, fieldsOf, titleOf, type Item, type ItemId } from '$lib/core/items';
import { newHandList, type HandList, type ListEntry, type ListId } from '$lib/core/lists';
import {
  asAddress,
  pathOut,
  writeListFile,
  LIST_FILE_ENDINGS,
  type FoundBy,
  type ListFileWishes,
  type PathsOut,
  type Resolved,
} from '$lib/core/list-files';
import { download } from '$lib/io/download';
import { newId } from '$lib/io/new-id';

/** What came of reading one list file. */
export interface ListRead {
  readonly list: HandList;
  /** How many entries were found by what. */
  readonly found: ReadonlyMap<FoundBy, number>;
  readonly open: number;
}

/** The note of a list that was read from a file, by which the file is recognised. */
export const noteOn = (file: string): string => `from ${file}`;

/** The hand list in a list file. @param name one that no list has */
export function listOf(file: string, name: string, resolved: readonly Resolved[]): ListRead {
  const found = new Map<FoundBy, number>();
  const seen = new Set<ItemId>();
  let open = 0;
  let hasDoubles = false;
  for (const { entries, by } of resolved) {
    if (by) found.set(by, (found.get(by) ?? 0) + 1);
    else open++;
    for (const entry of entries) {
      if (!('item' in entry)) continue;
      hasDoubles ||= seen.has(entry.item);
      seen.add(entry.item);
    }
  }
  const list: HandList = {
    ...newHandList(newId() as ListId, name),
    note: noteOn(file),
    suites: resolved.map(({ name: folder, entries }) => ({ name: folder, entries })),
    // A file may name an item twice on purpose.
    allowsDoubles: hasDoubles,
  };
  return { list, found, open };
}

/** Saves a list as a file. Open entries go out as they came. */
export function saveList(
  name: string,
  entries: readonly ListEntry[],
  find: (id: ItemId) => Item | null,
  wishes: ListFileWishes & { readonly paths: PathsOut },
): void {
  const written = entries.flatMap((entry) => {
    if ('open' in entry) return [entry.open];
    const item = find(entry.item);
    if (!item) return [];
    const out = pathOut(item.path, wishes.paths);
    const artist = fieldText(fieldsOf(item).artist) || null;
    return [
      {
        path: wishes.type === 'xspf' && wishes.paths.type === 'relative' ? asAddress(out) : out,
        title: titleOf(item),
        artist,
        seconds: item.facts.durationSeconds,
      },
    ];
  });
  const bytes = writeListFile({ name, entries: written }, wishes);
  // A sign that parts folders would make the browser cut the name.
  const file = `${name.replace(/[\\/]+/g, ' ')}.${LIST_FILE_ENDINGS[wishes.type]}`;
  download(new Blob([bytes as BlobPart], { type: 'application/octet-stream' }), file);
}
