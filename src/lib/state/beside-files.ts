import { assignBeside, type BesideFile } from '$lib/core/beside';
import { withFound, type ChosenPicture, type Item, type ItemId, type Overlay } from '$lib/core/items';
import type { Change } from '$lib/core/library';
import type { Rulebook, SidecarRules } from '$lib/core/rulebooks';
import { MOST_LETTERS, readBeside } from '$lib/formats/beside';
import type { WalkedFile } from '$lib/io/take-in/walk';
import type { Library } from './library.svelte';

/** Bytes of the largest picture that is read. */
const MOST_PICTURE_BYTES = 40_000_000;
/** Files after which their items are updated, so that the page can draw in between. */
const AT_ONCE = 50;

/** What reading files beside items needs. */
export interface BesideOutside {
  /** Stores a picture as players want it. @throws {Error} if the browser cannot show it */
  readonly keepPicture: (file: Blob) => Promise<ChosenPicture>;
  /** Called with the number of files that were read. */
  readonly progress: (done: number) => void;
  readonly isCancelled: () => boolean;
}

/**
 * Reads pictures, sidecars, lyrics, chapters, subtitles and texts beside items, and adds what they say to the items. Files
 * that an item has already are skipped.
 * @returns the paths of all files that belong to items
 */
export async function findBesideItems(
  library: Library,
  items: readonly Item[],
  others: readonly WalkedFile[],
  rulebooks: readonly Rulebook[],
  { keepPicture, progress, isCancelled }: BesideOutside,
): Promise<Set<string>> {
  const media = items.map(({ path, facts }) => ({
    path,
    isVideo: facts.streams.some(({ type }) => type === 'picture'),
  }));
  const idOf = new Map(items.map(({ path, id }) => [path, id]));
  const fileOf = new Map(others.map((file) => [file.path, file]));
  const dialects = rulebooks.flatMap(({ beside }) => beside.filter((rules) => rules.type === 'sidecar'));
  const endings = new Set(dialects.map(({ extension }) => extension));
  const assigned = assignBeside(media, [...fileOf.keys()], endings);
  const used = new Set<string>();
  let done = 0;
  for (const beside of assigned) {
    if (isCancelled()) break;
    const file = fileOf.get(beside.path) as WalkedFile;
    const ids = beside.of.flatMap((path) => idOf.get(path) ?? []);
    if (await addTo(library, ids, beside, file, { keepPicture, dialects })) used.add(beside.path);
    progress(++done);
    if (done % AT_ONCE === 0) await new Promise((resolve) => setTimeout(resolve));
  }
  return used;
}

async function addTo(
  library: Library,
  ids: readonly ItemId[],
  { path, type, role }: BesideFile,
  { file, size, modified }: WalkedFile,
  {
    keepPicture,
    dialects,
  }: Pick<BesideOutside, 'keepPicture'> & { readonly dialects: readonly SidecarRules[] },
): Promise<boolean> {
  const items = library.findAll(ids);
  const fresh = items.filter(
    ({ foundBeside }) =>
      !foundBeside?.some((one) => one.path === path && one.size === size && one.modified === modified),
  );
  if (fresh.length === 0) return items.length > 0;
  let picture: Overlay | null = null;
  let text = '';
  try {
    if (type !== 'picture') text = size <= 4 * MOST_LETTERS ? await file.text() : '';
    else if (size <= MOST_PICTURE_BYTES) picture = { pictures: { [role]: await keepPicture(file) } };
  } catch {
    // A file that cannot be read or shown stays in the list of files that are not media.
    return false;
  }
  const changes = fresh.flatMap((item): Change[] => {
    const says = picture ?? (type === 'picture' ? null : readBeside(type, path, text, item, dialects));
    return says
      ? [{ id: item.id, before: item, after: withFound(item, { path, size, modified, says }) }]
      : [];
  });
  library.put(changes);
  return changes.length > 0;
}
