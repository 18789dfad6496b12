import { editsOf, type Edits, type Item, type ItemId, type SourceId } from '../items';
import { folderOf, isBelow, nameOf } from '../paths';
import type { Kind } from '../kinds';
import type { ListId, MirrorList, PlayList } from './list';

/**
 * Default values for files in a watched folder. Subfolders have rules of their own; if one sets no value, the nearest
 * folder above that does applies.
 */
export interface FolderRule {
  readonly folder: string;
  /** Null leaves the kind to the evidence. */
  readonly kind: Kind | null;
  /** Values for fields that a file leaves empty. */
  readonly defaults: Edits;
}

/** A tree that is watched, tied in one act. */
export interface WatchedTree {
  readonly source: SourceId;
  readonly label: string;
  /** Milliseconds since 1970. */
  readonly since: number;
  /** What folders get that come up later. */
  readonly choice: TieChoice;
  readonly rules: readonly FolderRule[];
}

/** What tying gives to every folder. */
export interface TieChoice {
  readonly kind: Kind | null;
  /** Each folder's own name is the genre of its files. */
  readonly genreFromFolder: boolean;
}

/** Whether a folder list contains an item: its file is in the folder and exists. */
export function mirrors(
  { source, folder, isDeep }: MirrorList,
  item: Pick<Item, 'source' | 'path' | 'gone'>,
): boolean {
  if (item.source !== source || item.gone !== null) return false;
  return isDeep ? isBelow(item.path, folder) : folderOf(item.path) === folder;
}

/** The items of a mirror list, in the order of their paths. Each item is in it once, whatever happens to its folder. */
export function itemsOfMirror(list: MirrorList, items: readonly Item[]): readonly Item[] {
  return items.filter((item) => mirrors(list, item)).sort((a, b) => (a.path < b.path ? -1 : 1));
}

const nameOfFolder = (folder: string, root: string) => (folder === '' ? root : folder.split('/').join(' / '));

/**
 * Watches a tree: every folder gets a rule and its list. Existing ones stay, so that repeating it only adds new
 * folders.
 * @param newId makes ids for the lists
 */
export function tieTree(
  tree: Omit<WatchedTree, 'rules'>,
  folders: readonly string[],
  before: { readonly tree: WatchedTree | null; readonly lists: readonly PlayList[] },
  newId: () => string,
): { readonly tree: WatchedTree; readonly lists: readonly PlayList[] } {
  const known = new Map((before.tree?.rules ?? []).map((rule) => [rule.folder, rule]));
  const rules = folders.map((folder): FolderRule => {
    const own = folder === '' ? tree.label : nameOf(folder);
    return (
      known.get(folder) ?? {
        folder,
        kind: tree.choice.kind,
        defaults: tree.choice.genreFromFolder && folder !== '' ? { genre: [own] } : {},
      }
    );
  });
  const listed = new Set(
    before.lists.flatMap((list) =>
      list.type === 'mirror' && list.source === tree.source ? [list.folder] : [],
    ),
  );
  const fresh = folders
    .filter((folder) => !listed.has(folder))
    .map((folder): MirrorList => ({
      id: newId() as ListId,
      type: 'mirror',
      name: nameOfFolder(folder, tree.label),
      note: '',
      group: tree.label,
      source: tree.source,
      folder,
      isDeep: false,
    }));
  const gone = [...known.values()].filter(({ folder }) => !folders.includes(folder));
  return {
    tree: { ...(before.tree ?? tree), rules: [...rules, ...gone] },
    lists: [...before.lists, ...fresh],
  };
}

/** Default values for a file at a path: those of the nearest folder win. */
export function defaultsFor(tree: WatchedTree, path: string): Edits {
  const above = tree.rules
    .filter(({ folder }) => isBelow(path, folder))
    .sort((a, b) => a.folder.length - b.folder.length);
  return Object.assign({}, ...above.map(({ defaults }) => defaults)) as Edits;
}

/** Defaults that a file does not say itself. */
export function missingDefaults(item: Pick<Item, 'file' | 'edits'>, defaults: Edits): Edits {
  return Object.fromEntries(
    Object.entries(defaults).filter(
      ([name]) => item.file.fields[name as keyof Edits] === null && !(name in editsOf(item)),
    ),
  );
}

/** A file that was there before and one that is there now. */
export interface Moved {
  readonly id: ItemId;
  readonly to: string;
}

/**
 * Files that disappeared from one path and appeared at another, matched by size, modification time and name: they are
 * the same items. Names may differ if size and time are unique.
 */
export function findMoves(
  vanished: readonly Item[],
  fresh: readonly { readonly path: string; readonly size: number; readonly modified: number }[],
): readonly Moved[] {
  const keyOf = ({ size, modified }: { size: number; modified: number }) => `${size}|${modified}`;
  const byKey = new Map<string, Item[]>();
  for (const item of vanished) byKey.set(keyOf(item), [...(byKey.get(keyOf(item)) ?? []), item]);
  const moves: Moved[] = [];
  for (const file of fresh) {
    const left = byKey.get(keyOf(file)) ?? [];
    const at = left.findIndex(({ path }) => nameOf(path) === nameOf(file.path));
    const place = at >= 0 ? at : left.length === 1 ? 0 : -1;
    const [item] = place < 0 ? [] : left.splice(place, 1);
    if (item) moves.push({ id: item.id, to: file.path });
  }
  return moves;
}
