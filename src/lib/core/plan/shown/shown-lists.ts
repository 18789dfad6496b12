import { stemOf } from '../../paths';
import { listsFor, type Rulebook } from '../../rulebooks';
import { entriesThere } from '../lists/list-text';
import type { FileRole } from '../../rulebooks';

/** A playlist as a player shows it. */
export interface ShownList {
  readonly path: string;
  readonly name: string;
  /** Paths of the files that it finds, in the order of the playlist. */
  readonly entries: readonly string[];
}

/** The playlists that a player shows, among those that are known here. @param has whether a file exists there */
export function shownLists(
  beside: Iterable<{ readonly path: string; readonly role: FileRole; readonly text: string | null }>,
  rulebook: Rulebook,
  has: (path: string) => boolean,
): readonly ShownList[] {
  const rules = listsFor(rulebook);
  if (!rules) return [];
  const lists: ShownList[] = [];
  for (const { path, role, text } of beside) {
    if (role !== 'list' || text === null) continue;
    const entries = (entriesThere(text, path, rules) ?? []).flatMap(({ paths }) => paths.find(has) ?? []);
    lists.push({ path, name: stemOf(path), entries });
  }
  return lists.sort((a, b) => (a.path < b.path ? -1 : 1));
}
