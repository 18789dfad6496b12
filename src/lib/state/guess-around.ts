import { fieldsOf, folderOf, kindOf, type ItemId } from '$lib/core/items';
import { Neighbourhood, artistKey, guessKind, kindOfFolder, type Guess } from '$lib/core/kinds';
import type { Change } from '$lib/core/library';
import type { Library } from './library.svelte';

/** Items guessed before the page gets its turn. */
const AT_ONCE = 150;

/**
 * Guesses anew what the surroundings may tell: artists known from songs, neighbours in the folder, kinds that
 * the curator gave to a folder, the way it came, and what was heard. They are known only once all is read.
 * @param speech share of speech of items that were listened to
 */
export async function guessAround(
  library: Library,
  ids: Iterable<ItemId>,
  speech: ReadonlyMap<ItemId, number | null> = new Map(),
): Promise<Change[]> {
  const items = library.findAll(ids);
  const artists = new Set<string>();
  const folders = new Set(items.map(({ path }) => folderOf(path)));
  const hood = new Neighbourhood();
  for (const item of library.items) {
    const { artist } = fieldsOf(item);
    if (artist && kindOf(item) === 'song') artists.add(artistKey(artist));
    if (folders.has(folderOf(item.path))) hood.add(item.path, item.guess, item.settled);
  }
  const origins = new Map(library.arrivals.map(({ id, origin }) => [id, origin]));
  const changes: Change[] = [];
  for (const [index, item] of items.entries()) {
    const rule = kindOfFolder(library.folderKinds, 'rule', item.source, item.path);
    const around = {
      knownArtists: artists,
      neighbours: item.guess.certainty === 'sure' ? null : hood.kindAround(item.path),
      correction: kindOfFolder(library.folderKinds, 'correction', item.source, item.path),
      folderRule: rule,
      origin: origins.get(item.arrival) ?? 'folder',
      speech: speech.get(item.id) ?? null,
    } as const;
    const guess = guessKind({ ...item, fields: item.fileFields }, around);
    if (differs(guess, item.guess)) changes.push({ id: item.id, before: item, after: { ...item, guess } });
    if (index % AT_ONCE === AT_ONCE - 1) await new Promise((resolve) => setTimeout(resolve));
  }
  return changes;
}

const differs = (a: Guess, b: Guess) =>
  a.kind !== b.kind || a.points !== b.points || a.evidence.length !== b.evidence.length;
