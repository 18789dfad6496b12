import type { ItemId } from '../../items';
import { mergeOrders, type ListEntry, type ListId, type PlayerList } from '../../lists';
import type { ListRules } from '../../rulebooks';
import type { Drift, EntrySides } from '../there/drift';
import type { PlacedFile } from '../there/files';
import { entriesThere, type EntryThere } from './list-text';
import { keysOf } from './player-list';

/** How the library has to change a list because it was changed on a player. */
export type ListChange = { readonly list: ListId; readonly name: string } & (
  | { readonly type: 'entries'; readonly entries: readonly ListEntry[] }
  /** Items that a rule list excludes from now on. */
  | { readonly type: 'drop'; readonly items: readonly ItemId[] }
);

/**
 * A change before a run, with the base of its file from then on: merging the same change twice would find other moves.
 */
export type ComingList = ListChange & {
  readonly left: PlacedFile;
  readonly now: PlacedFile;
};

/** The outcome of a list file that was changed on the player. */
export interface ListDrift {
  /** How the list changes here; null if it does not. */
  readonly change: ListChange | null;
  /** Why the curator has to decide; null if it can be merged. */
  readonly open: 'conflict' | 'byRule' | 'ofFolder' | 'unreadable' | null;
  readonly sides: readonly EntrySides[];
  /** The content of the file. */
  readonly text: string;
}

const UNREADABLE: ListDrift = { change: null, open: 'unreadable', sides: [], text: '' };

/**
 * Merges the changes of a list on the player with those here, both relative to the base.
 * @param itemAt the item of the file at one of these paths
 * @param isThere whether an entry of the list is copied to the player: one that is not cannot have been removed there
 */
export function mergeList(
  list: PlayerList,
  { placed, file, decided }: Drift,
  rules: ListRules,
  itemAt: (paths: readonly string[]) => ItemId | null,
  isThere: (entry: ListEntry) => boolean,
): ListDrift {
  const text = file?.text;
  if (!placed || !file || text === undefined) return UNREADABLE;
  const entryOf = ({ said, paths }: EntryThere): ListEntry => {
    const item = itemAt(paths);
    return item === null ? { open: said } : { item };
  };
  const read = (own: string, path: string) => entriesThere(own, path, rules)?.map(entryOf) ?? null;
  const left = read(placed.signature, placed.path) ?? [];
  const now = read(text, file.path);
  if (!now) return UNREADABLE;
  const here = keysOf(list.entries);
  const keyed = (entries: readonly ListEntry[]) => {
    const keys = keysOf(entries);
    return new Map(keys.map((key, index) => [key, entries[index] as ListEntry]));
  };
  const [before, after] = [keyed(left), keyed(now)];
  // A second copy of an item in a list that allows none is not an addition.
  const isNew = (key: string) => !list.allowsDoubles && key.includes('\n') && !before.has(key);
  const there = [...after.keys()].filter((key) => !isNew(key));
  const own = new Map(here.map((key, index) => [key, list.entries[index] as ListEntry]));
  const all = new Map([...before, ...after, ...own]);
  // If the player wins, only entries that it does not have are this side's own.
  const written = here.filter((key) => isThere(own.get(key) as ListEntry));
  const base = decided === 'there' ? written : [...before.keys()];
  const merged = mergeOrders(base, here, there);
  const sides = sidesOf([...before.keys()], here, there, all, merged.type === 'conflict' ? merged.keys : []);
  const { id, name } = list;
  const { open, change } = ((): Pick<ListDrift, 'open' | 'change'> => {
    const taken = [...before.keys()].filter((key) => !after.has(key) && own.has(key));
    const added = there.filter((key) => !before.has(key) && !own.has(key));
    switch (list.type) {
      case 'hand': {
        if (merged.type === 'conflict') return { open: 'conflict', change: null };
        const isSame = merged.keys.length === here.length && merged.keys.every((key, at) => key === here[at]);
        const entries = merged.keys.map((key) => all.get(key) as ListEntry);
        return { open: null, change: isSame ? null : { type: 'entries', list: id, name, entries } };
      }
      case 'rule': {
        // Its query decides what is in it, and its sorting the order.
        if (added.length > 0) return { open: 'byRule', change: null };
        const items = taken.flatMap((key) => {
          const entry = own.get(key);
          return entry && 'item' in entry ? entry.item : [];
        });
        return { open: null, change: items.length > 0 ? { type: 'drop', list: id, name, items } : null };
      }
      case 'mirror':
        return { open: added.length + taken.length > 0 ? 'ofFolder' : null, change: null };
    }
  })();
  return { open, change, sides, text };
}

/** The most entries of which both sides are shown. */
const MOST_SIDES = 100;

function sidesOf(
  left: readonly string[],
  here: readonly string[],
  there: readonly string[],
  entries: ReadonlyMap<string, ListEntry>,
  conflicts: readonly string[],
): readonly EntrySides[] {
  const [own, theirs, before] = [placesOf(here), placesOf(there), placesOf(left)];
  const open = new Set(conflicts);
  // Common entries are compared by their position among the common ones.
  const shared = here.filter((key) => theirs.has(key));
  const [sharedHere, sharedThere] = [placesOf(shared), placesOf(there.filter((key) => own.has(key)))];
  const differs = (key: string) =>
    own.has(key) !== theirs.has(key) || sharedHere.get(key) !== sharedThere.get(key);
  return [...new Set([...there, ...here])]
    .filter((key) => open.has(key) || (differs(key) && (before.has(key) || theirs.has(key))))
    .sort((a, b) => Number(open.has(b)) - Number(open.has(a)))
    .slice(0, MOST_SIDES)
    .map((key) => ({
      entry: entries.get(key) as ListEntry,
      left: before.get(key) ?? null,
      here: own.get(key) ?? null,
      there: theirs.get(key) ?? null,
      isConflict: open.has(key),
    }));
}

const placesOf = (keys: readonly string[]): ReadonlyMap<string, number> =>
  new Map(keys.map((key, index) => [key, index]));
