import { fieldOf, kindOf, type ItemId } from '$lib/core/items';
import { folderOf } from '$lib/core/paths';
import { artistKey, guessKind } from '$lib/core/guessing';
import { Neighbourhood, kindOfFolder, type Guess } from '$lib/core/kinds';
import type { Change } from '$lib/core/library';
import type { Library } from './library.svelte';

/** Items guessed before the page gets its turn. */
const AT_ONCE = 150;
/** Items that are only looked at before it. */
const LOOKED_AT_ONCE = 3000;
const nextTurn = () => new Promise<void>((resolve) => setTimeout(resolve));

/**
 * Guesses kinds again with the evidence of their surroundings, which is complete only once all files are read: artists
 * of songs, neighbours in the folder, kinds set for a folder, the origin, and audio analysis.
 * @param speech share of speech of analysed items
 */
export async function guessAround(
  library: Library,
  ids: Iterable<ItemId>,
  speech: ReadonlyMap<ItemId, number | null> = new Map(),
): Promise<Change[]> {
  const items = library.findAll(ids);
  // Taking in the same folder again brings nothing, so the library need not be searched.
  if (items.length === 0) return [];
  const artists = new Set<string>();
  const folders = new Set(items.map(({ path }) => folderOf(path)));
  const hood = new Neighbourhood();
  for (const [index, item] of library.items.entries()) {
    if (index % LOOKED_AT_ONCE === LOOKED_AT_ONCE - 1) await nextTurn();
    if (kindOf(item) === 'song')
      for (const artist of fieldOf(item, 'artist') ?? []) artists.add(artistKey(artist));
    if (folders.has(folderOf(item.path))) hood.add(item.path, item.guess, item.settled);
  }
  const origins = new Map(library.arrivals.map(({ id, origin }) => [id, origin]));
  const guesses = new Map<ItemId, Guess>();
  for (const [index, item] of items.entries()) {
    const around = {
      knownArtists: artists,
      neighbours: item.guess.certainty === 'sure' ? null : hood.kindAround(item.path),
      correction: kindOfFolder(library.folderKinds, 'correction', item.source, item.path),
      folderRule: kindOfFolder(library.folderKinds, 'rule', item.source, item.path),
      origin: origins.get(item.arrival) ?? 'folder',
      speech: speech.get(item.id) ?? heardBefore(item.guess),
    } as const;
    const guess = guessKind(item, around);
    if (differs(guess, item.guess)) guesses.set(item.id, guess);
    if (index % AT_ONCE === AT_ONCE - 1) await nextTurn();
  }
  // Items may have been edited in the meantime: only their guesses change.
  return library.findAll(guesses.keys()).map((item) => ({
    id: item.id,
    before: item,
    after: { ...item, guess: guesses.get(item.id) ?? item.guess },
  }));
}

/** The share of speech from an earlier guess, so that the audio need not be analysed again; null if it was not. */
function heardBefore({ evidence }: Guess): number | null {
  const heard = evidence.find(({ code }) => code === 'spoken' || code === 'sung');
  return heard ? Number(heard.detail) / 100 : null;
}

const differs = (a: Guess, b: Guess) =>
  a.kind !== b.kind || a.points !== b.points || a.evidence.length !== b.evidence.length;
