import { editItem, type Edits, type Item, type SourceId, type UnreadFile } from '$lib/core/items';
import {
  defaultsFor,
  findMoves,
  itemsOfMirror,
  missingDefaults,
  tieTree,
  type FolderRule,
  type MirrorList,
  type TieChoice,
  type WatchedTree,
} from '$lib/core/lists';
import { isSameFile, type Change } from '$lib/core/library';
import { folderOf } from '$lib/core/paths';
import { isMediaName } from '$lib/formats/reading/media-names';
import { newId } from '$lib/io/new-id';
import { mayRead, openItem } from '$lib/io/take-in/open-item';
import { sameBytes } from '$lib/io/take-in/same-bytes';
import { listFolders, walkHandle, type LostFile, type WalkedFile } from '$lib/io/take-in/walk';
import { watchFolder } from '$lib/io/take-in/watch';
import type { Session } from '../session.svelte';

/** The state of a watched tree. */
export interface WatchState {
  readonly phase: 'watching' | 'looking' | 'shut' | 'gone';
  /** Milliseconds since 1970 of the last look. */
  readonly at: number | null;
}

/** Milliseconds until a look that came while a take-in runs is tried again. */
const LATER = 1000;

/** Watched folders: tied in one act, looked at on every change, with their mirror lists. */
export class WatchDesk {
  states = $state.raw<ReadonlyMap<SourceId, WatchState>>(new Map());
  trouble = $state<string | null>(null);
  readonly trees: readonly WatchedTree[] = $derived.by(() => this.session.library.watched);

  private readonly ends = new Map<SourceId, () => void>();
  /** Looks that wait for their turn. */
  private readonly waiting = new Map<SourceId, Promise<void>>();
  /** The last look in turn: two at once could each take a file in that moved from one tree to the other. */
  private turn: Promise<void> = Promise.resolve();

  constructor(private readonly session: Pick<Session, 'intake' | 'library' | 'work'>) {}

  /** Looks at every tree that may be read, and goes on watching. */
  async start(): Promise<void> {
    for (const tree of this.trees) await this.resume(tree);
  }

  end(): void {
    for (const end of this.ends.values()) end();
    this.ends.clear();
  }

  /** Ties a whole tree in one act and takes it in. */
  async tie(handle: FileSystemDirectoryHandle, choice: TieChoice): Promise<void> {
    this.trouble = null;
    const { library, intake } = this.session;
    const source = await intake.sourceOf({ handle, label: handle.name });
    const folders = await listFolders(handle);
    this.setTree({ source, label: handle.name, since: Date.now(), choice }, folders);
    await this.look(source);
    await library.flush();
    await this.watch(source, handle);
  }

  /** Ends watching; items and lists stay. */
  untie(tree: WatchedTree): void {
    this.ends.get(tree.source)?.();
    this.ends.delete(tree.source);
    const { library } = this.session;
    library.setWatched(library.watched.filter(({ source }) => source !== tree.source));
    for (const { folder } of tree.rules) library.setFolderKind(tree.source, folder, 'rule', null);
    this.session.work.say(`${tree.label} is no longer watched; its items and lists stay`);
  }

  /** Changes the defaults of a folder for future files. */
  setRule(tree: WatchedTree, rule: FolderRule): void {
    const { library } = this.session;
    const rules = tree.rules.map((own) => (own.folder === rule.folder ? rule : own));
    library.setWatched(library.watched.map((own) => (own.source === tree.source ? { ...own, rules } : own)));
    library.setFolderKind(tree.source, rule.folder, 'rule', rule.kind);
  }

  listOf(tree: WatchedTree, folder: string): MirrorList | null {
    for (const list of this.session.library.lists)
      if (list.type === 'mirror' && list.source === tree.source && list.folder === folder) return list;
    return null;
  }

  itemsIn(list: MirrorList): readonly Item[] {
    return itemsOfMirror(list, this.session.library.items);
  }

  /** Checks a tree, after all checks that were asked for before. */
  look(source: SourceId): Promise<void> {
    let waiting = this.waiting.get(source);
    if (!waiting) {
      waiting = this.turn.then(async () => {
        this.waiting.delete(source);
        if (!(await this.lookNow(source))) this.lookLater(source);
      });
      this.waiting.set(source, waiting);
      // One that fails must not stop those after it.
      this.turn = waiting.catch(() => undefined);
    }
    return waiting;
  }

  /**
   * Takes in new and changed files of a tree, follows moved ones and notes missing ones.
   * @param of the tree whose check needs this one first, if any
   * @returns whether it was done: during another take-in it is not
   */
  private async lookNow(source: SourceId, of: SourceId | null = null): Promise<boolean> {
    const { library, intake } = this.session;
    if (intake.busy) return false;
    const tree = this.trees.find((one) => one.source === source);
    const handle = await library.storage.handles.find(source);
    if (!tree || !handle || !library.mayWrite) return true;
    this.setState(source, 'looking');
    try {
      this.setTree(tree, await listFolders(handle));
      const there: WalkedFile[] = [];
      const others: WalkedFile[] = [];
      for await (const file of walkHandle(handle)) (isMediaName(file.path) ? there : others).push(file);
      const before = library.items.filter((item) => item.source === source);
      this.follow(source, before, there);
      const fresh = this.freshOf(source, there);
      // Files may have moved here from another watched tree: it is checked first, so that they stay the same items.
      if (fresh.length > 0 && of === null && this.trees.length > 1) {
        for (const other of this.trees)
          if (other.source !== source && !(await this.lookNow(other.source, source))) return false;
        this.follow(
          source,
          library.items.filter((item) => item.source === source),
          there,
        );
      }
      const left = this.freshOf(source, there);
      if (left.length > 0 && !(await this.takeIn(tree, handle, left))) return false;
      await intake.readBeside(source, others);
      this.setState(source, 'watching');
    } catch (error) {
      const isGone = error instanceof DOMException && error.name === 'NotFoundError';
      const isShut = error instanceof DOMException && error.name === 'NotAllowedError';
      this.setState(source, isShut ? 'shut' : 'gone');
      this.trouble = isShut
        ? `${tree.label} needs to be opened again.`
        : `${tree.label} ${isGone ? 'is missing' : `could not be looked at (${String(error)})`}. Its items and lists stay as they are; put the folder back, or watch it at its new place.`;
    }
    return true;
  }

  private lookLater(source: SourceId): void {
    setTimeout(() => void this.look(source), LATER);
  }

  /** Applies a folder's defaults to items in it without values of their own. */
  giveDefaults(tree: WatchedTree, list: MirrorList): void {
    const items = this.itemsIn(list);
    this.session.library.act(`Defaults of ${list.name}`, items, (item) => withDefaults(tree, item));
  }

  /** Files that moved keep their descriptions; files that are gone say so; files that came back are there again. */
  private follow(source: SourceId, before: readonly Item[], there: readonly WalkedFile[]): void {
    const paths = new Set(there.map(({ path }) => path));
    const known = new Set(before.map(({ path }) => path));
    const vanished = [...before.filter(({ path }) => !paths.has(path)), ...this.goneElsewhere(source)];
    const moves = new Map(
      findMoves(
        vanished,
        there.filter(({ path }) => !known.has(path)),
      ).map(({ id, to }) => [id, to]),
    );
    const now = Date.now();
    const changes = [...before, ...this.goneElsewhere(source)].flatMap((item): Change[] => {
      const to = moves.get(item.id);
      if (item.source !== source && to === undefined) return [];
      const gone = to === undefined && !paths.has(item.path) ? (item.gone ?? now) : null;
      if (to === undefined && gone === item.gone) return [];
      return [{ id: item.id, before: item, after: { ...item, source, path: to ?? item.path, gone } }];
    });
    this.session.library.put(changes);
    const lost = changes.filter(({ after }) => after?.gone === now).length;
    if (moves.size > 0 || lost > 0)
      this.session.work.say(
        [moves.size > 0 ? `${moves.size} moved` : '', lost > 0 ? `${lost} missing from their folder` : '']
          .filter(Boolean)
          .join(', '),
      );
  }

  /** Items that went from another watched tree: they may have come here. */
  private goneElsewhere(source: SourceId): readonly Item[] {
    const trees = new Set(this.trees.map((tree) => tree.source));
    return this.session.library.items.filter(
      (item) => item.gone !== null && item.source !== source && trees.has(item.source),
    );
  }

  private freshOf(source: SourceId, there: readonly WalkedFile[]): readonly WalkedFile[] {
    const known = new Map(
      this.session.library.items.filter((item) => item.source === source).map((item) => [item.path, item]),
    );
    const unread = new Set(
      this.session.library.arrivals
        .filter((arrival) => arrival.source === source)
        .flatMap(({ unread: listed, at }) => listed.filter((one) => !isFreed(one, at)))
        .map(({ path }) => path),
    );
    /** A double of a file that has gone, or was changed since. */
    function isFreed({ code, detail }: UnreadFile, at: number): boolean {
      if (code !== 'double') return false;
      const kept = known.get(detail);
      return !kept || kept.gone !== null || kept.modified > at;
    }
    return there.filter((file) => {
      const item = known.get(file.path);
      // A file that could not be read is not tried again at every look, only when it changed.
      if (!item) return !unread.has(file.path) || file.modified > (this.states.get(source)?.at ?? 0);
      return !isSameFile(file, item);
    });
  }

  private async takeIn(
    tree: WatchedTree,
    handle: FileSystemDirectoryHandle,
    fresh: readonly WalkedFile[],
  ): Promise<boolean> {
    const { library, intake } = this.session;
    const before = new Set(library.items.map(({ id }) => id));
    const result = await intake.takeIn([
      {
        label: tree.label,
        handle,
        origin: 'watched',
        total: fresh.length,
        files: this.withoutDoubles(tree.source, fresh),
      },
    ]);
    // Another take-in came first: these come with the next look.
    if (!result) return false;
    const current = this.trees.find(({ source }) => source === tree.source) ?? tree;
    library.put(
      library.items
        .filter(({ id, source }) => source === tree.source && !before.has(id))
        .map((item): Change => ({ id: item.id, before: item, after: withDefaults(current, item) })),
    );
    return true;
  }

  /**
   * Of files of one folder that are the same, byte for byte, one alone comes in: its list would play it twice. The others
   * are listed with their arrival.
   */
  private async *withoutDoubles(
    source: SourceId,
    fresh: readonly WalkedFile[],
  ): AsyncGenerator<WalkedFile | LostFile> {
    const alike = new Map<string, WalkedFile[]>();
    for (const file of fresh) {
      const own = alike.get(alikeKey(file));
      if (own) own.push(file);
      else alike.set(alikeKey(file), [file]);
    }
    const there = this.thereAlike(source, fresh, new Set(alike.keys()));
    const sameAs = new Map<string, string>();
    for (const file of fresh) {
      const key = alikeKey(file);
      const group = alike.get(key) ?? [];
      alike.delete(key);
      for (const [path, kept] of await doublesIn(group, there.get(key) ?? [])) sameAs.set(path, kept);
      const detail = sameAs.get(file.path);
      if (detail === undefined) yield file;
      else yield { path: file.path, lost: { code: 'double', detail } };
    }
  }

  /** Items of a tree that new files may be equal to, by the properties they share; changed files are not among them. */
  private thereAlike(
    source: SourceId,
    fresh: readonly WalkedFile[],
    keys: ReadonlySet<string>,
  ): ReadonlyMap<string, readonly Comparable[]> {
    const { library } = this.session;
    const paths = new Set(fresh.map(({ path }) => path));
    const there = new Map<string, Comparable[]>();
    for (const item of library.items) {
      if (item.source !== source || item.gone !== null) continue;
      const key = alikeKey(item);
      if (!keys.has(key)) continue;
      const { path } = item;
      const one = { path, open: () => openItem(library.storage, source, path), isChanged: paths.has(path) };
      there.set(key, [...(there.get(key) ?? []), one]);
    }
    return there;
  }

  /** Folders that came up since the last look are tied as the others were. */
  private setTree(tree: Omit<WatchedTree, 'rules'>, folders: readonly string[]): void {
    const { library } = this.session;
    const old = library.watched.find(({ source }) => source === tree.source) ?? null;
    const tied = tieTree(tree, folders, { tree: old, lists: library.lists }, newId);
    const known = new Set(old?.rules.map(({ folder }) => folder));
    if (old && tied.tree.rules.every(({ folder }) => known.has(folder))) return;
    library.setWatched(
      [...library.watched.filter(({ source }) => source !== tree.source), tied.tree],
      tied.lists,
    );
    for (const { folder, kind } of tied.tree.rules)
      if (!known.has(folder) && kind !== null) library.setFolderKind(tree.source, folder, 'rule', kind);
  }

  private async resume(tree: WatchedTree): Promise<void> {
    const handle = await this.session.library.storage.handles.find(tree.source);
    if (!handle) return this.setState(tree.source, 'gone');
    if (!(await mayRead(handle))) return this.setState(tree.source, 'shut');
    await this.look(tree.source);
    await this.watch(tree.source, handle);
  }

  private async watch(source: SourceId, handle: FileSystemDirectoryHandle): Promise<void> {
    this.ends.get(source)?.();
    this.ends.set(source, await watchFolder(handle, () => void this.look(source)));
  }

  private setState(source: SourceId, phase: WatchState['phase']): void {
    const at = phase === 'watching' ? Date.now() : (this.states.get(source)?.at ?? null);
    this.states = new Map(this.states).set(source, { phase, at });
  }
}

/** Files of one folder and of one length in bytes may be the same. */
const alikeKey = ({ path, size }: { readonly path: string; readonly size: number }) =>
  `${size} ${folderOf(path)}`;

/** An item's file as it can be compared with another. */
interface Comparable {
  readonly path: string;
  /** It is read again: it is not a double, and may be another file now. */
  readonly isChanged: boolean;
  open(): Promise<Blob>;
}

/** For files that equal another one, the path of that; the one with the shortest name is kept. */
async function doublesIn(
  files: readonly WalkedFile[],
  there: readonly Comparable[],
): Promise<ReadonlyMap<string, string>> {
  const changed = new Set(there.flatMap(({ path, isChanged }) => (isChanged ? [path] : [])));
  const kept = there.filter(({ isChanged }) => !isChanged);
  const same = new Map<string, string>();
  for (const { path, file } of [...files].sort((a, b) => a.path.length - b.path.length)) {
    const other = changed.has(path) ? null : await sameOf(file, kept);
    if (other === null) kept.push({ path, isChanged: false, open: () => Promise.resolve(file) });
    else same.set(path, other);
  }
  return same;
}

/** The path of the first of these that has a file's bytes; one that cannot be read now is no such. */
async function sameOf(file: Blob, others: readonly Comparable[]): Promise<string | null> {
  for (const other of others) {
    const isSame = await other
      .open()
      .then((there) => sameBytes(file, there))
      .catch(() => false);
    if (isSame) return other.path;
  }
  return null;
}

function withDefaults(tree: WatchedTree, item: Item): Item {
  const edits: Edits = missingDefaults(item, defaultsFor(tree, item.path));
  return Object.keys(edits).length > 0 ? editItem(item, edits) : item;
}
