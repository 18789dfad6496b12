import { EMPTY_FIELDS, fieldText, type ItemId } from '../../items';
import type { ListEntry, ListId, OpenSaid, PlayerList } from '../../lists';
import { listsFor, type ListRules, type Rulebook } from '../../rulebooks';
import type { Findings } from '../findings/findings';
import * as say from '../findings/list-remarks';
import { NONE, type Remark } from '../findings/remark';
import type { Outgoing } from '../names/outgoing';
import { tooLong } from '../names/too-long';
import { itemOf } from '../owner';
import type { PathKeys } from '../path-keys';
import type { Drift, EntrySides } from '../there/drift';
import type { PlacedFile } from '../there/files';
import type { Side, SyncPolicy } from '../there/sides';
import type { RoomTaken } from '../steps/room';
import { bytesOf, listFile, type Want } from '../steps/want';
import type { World } from '../steps/world';
import { mergeList, type ComingList, type ListDrift } from './list-drift';
import { listPath, listText, namedIn, pathsThere } from './list-text';
import { isAlike, itemsOfLists } from './player-list';

/** Why a list has no file on the player, or not the wanted one. */
export type ListState = 'goes' | 'empty' | 'waits' | 'occupied' | 'away' | 'tooLong' | 'noRoom' | 'noLists';

/** A list with the state of its file. */
interface Kept {
  list: PlayerList;
  path: string;
  state: ListState;
  want: Want | null;
  /** The file that would be written if nothing was in its way. */
  barred: Want | null;
  /** Bytes that its file takes beyond the existing one, whether there is room or not; null if none is wanted. */
  bytes: number | null;
  said: readonly Remark[];
  drift: ListDrift | null;
  /** Positions of the entries that are in its file. */
  written: ReadonlySet<number>;
}

/** The files of a player's lists. A file is updated when its list or the path of one of its items changes. */
export class ListFiles {
  private readonly rules: ListRules | null;
  private readonly lists = new Map<ListId, Kept>();
  /** The order in which lists are shown. */
  private order: readonly ListId[] = [];
  /** Lists by item. */
  private readonly listsOf = new Map<ItemId, Set<ListId>>();
  private readonly outs = new Map<ItemId, Outgoing>();
  private readonly touched = new Set<ListId>();
  private readonly driftsOf = new Map<ListId, Drift>();
  /** Items by the recorded paths of files that are no longer there. */
  private leftAt: ReadonlyMap<string, ItemId> | null = null;
  private taken: ReadonlySet<ListId> = NONE_TAKEN;
  /** Lists for which there is no room, by what runs out. */
  private out: ReadonlyMap<ListId, keyof RoomTaken> = new Map();

  constructor(
    private readonly rulebook: Rulebook,
    private readonly keys: PathKeys,
    private readonly world: World,
    private readonly findings: Findings,
    private readonly policy: SyncPolicy,
    private readonly placed: readonly PlacedFile[],
  ) {
    this.rules = listsFor(rulebook);
    for (const drift of world.there.drifts.values()) {
      const owner = drift.placed?.owner;
      if (owner?.type === 'list') this.driftsOf.set(owner.list, drift);
    }
  }

  /**
   * Sets the player's lists, those with priority first.
   * @param taken lists into which changes from the player were already merged
   */
  know(lists: readonly PlayerList[], taken: ReadonlySet<ListId> = NONE_TAKEN): void {
    for (const id of new Set([...this.taken, ...taken]))
      if (this.taken.has(id) !== taken.has(id)) this.touched.add(id);
    this.taken = taken;
    const coming = new Set(lists.map(({ id }) => id));
    for (const [id, kept] of this.lists) if (!coming.has(id)) this.forget(id, kept);
    this.order = lists.map(({ id }) => id);
    lists.forEach((list) => {
      const kept = this.lists.get(list.id);
      if (kept && isAlike(kept.list, list)) return;
      if (kept) this.unlink(kept.list);
      this.link(list);
      if (kept) kept.list = list;
      else this.lists.set(list.id, newKept(list));
      this.touched.add(list.id);
    });
    // Names are numbered in the order of the lists: a list that was added or removed can free a number.
    this.namePaths(lists);
  }

  join(out: Outgoing): void {
    this.outs.set(out.entry.id, out);
    this.touch(out.entry.id);
  }

  leave(out: Outgoing): void {
    this.outs.delete(out.entry.id);
    this.touch(out.entry.id);
  }

  /** Looks again at lists affected by decisions, and at those whose path is occupied. */
  lookAgain(): void {
    for (const [id, { state }] of this.lists)
      if (state !== 'goes' || this.driftsOf.has(id)) this.touched.add(id);
  }

  /**
   * Decides which lists fit beside the items, by priority.
   * @returns whether that changed
   */
  fit(left: RoomTaken): boolean {
    const before = this.out;
    const out = new Map<ListId, keyof RoomTaken>();
    let { bytes, files } = left;
    for (const kept of this.inOrder()) {
      if (kept.bytes === null) continue;
      if (files < 1) out.set(kept.list.id, 'files');
      else if (kept.bytes > Math.max(0, bytes)) out.set(kept.list.id, 'bytes');
      else {
        files--;
        bytes -= kept.bytes;
      }
    }
    this.out = out;
    let isOther = false;
    for (const id of new Set([...before.keys(), ...out.keys()])) {
      if (before.get(id) === out.get(id)) continue;
      this.touched.add(id);
      isOther = true;
    }
    return isOther;
  }

  settle(): void {
    for (const id of this.touched) {
      const kept = this.lists.get(id);
      if (kept) this.settleList(kept);
    }
    this.touched.clear();
  }

  /** Changes of lists that are taken from the player before a run. */
  comes(): readonly ComingList[] {
    return this.inOrder().flatMap(({ list, drift }) => {
      const own = this.driftsOf.get(list.id);
      const { placed, file } = own ?? {};
      if (!own || !placed || !file || !drift?.change || this.sideOf(own, drift) !== 'there') return [];
      const { path, size, digest } = file;
      return { ...drift.change, left: placed, now: { ...placed, path, size, digest, signature: drift.text } };
    });
  }

  /** Lists with the state of their files, in order. */
  all(): readonly Readonly<Pick<Kept, 'list' | 'path' | 'state' | 'written'>>[] {
    return this.inOrder();
  }

  /** The changes of both sides to the list whose file was left at a path; null if there is none. */
  sidesAt(key: string): readonly EntrySides[] | null {
    for (const [id, { key: own }] of this.driftsOf)
      if (own === key) return this.lists.get(id)?.drift?.sides ?? null;
    return null;
  }

  barred(): readonly Want[] {
    return this.inOrder().flatMap(({ barred }) => barred ?? []);
  }

  private inOrder(): readonly Kept[] {
    return this.order.flatMap((id) => this.lists.get(id) ?? []);
  }

  private touch(item: ItemId): void {
    for (const list of this.listsOf.get(item) ?? []) this.touched.add(list);
  }

  private link(list: PlayerList): void {
    for (const item of itemsOfLists([list])) {
      const own = this.listsOf.get(item);
      if (own) own.add(list.id);
      else this.listsOf.set(item, new Set([list.id]));
    }
  }

  private unlink(list: PlayerList): void {
    for (const item of itemsOfLists([list])) {
      const own = this.listsOf.get(item);
      if (own?.delete(list.id) && own.size === 0) this.listsOf.delete(item);
    }
  }

  private forget(id: ListId, kept: Kept): void {
    this.unlink(kept.list);
    if (kept.want) this.world.unwant(kept.want);
    this.world.holdList(id, false);
    this.findings.exchange(kept.said, NONE);
    this.lists.delete(id);
    const drift = this.driftsOf.get(id);
    if (drift) this.world.settleDrift(drift, null);
  }

  private namePaths(lists: readonly PlayerList[]): void {
    const { rules } = this;
    if (!rules) return;
    const taken = new Set<string>();
    for (const list of lists) {
      let path = '';
      for (let number = 1; path === '' || taken.has(this.keys.of(path)); number++)
        path = listPath(list, rules, this.rulebook.disk, number);
      taken.add(this.keys.of(path));
      const kept = this.lists.get(list.id) as Kept;
      if (kept.path === path) continue;
      kept.path = path;
      this.touched.add(list.id);
    }
  }

  private settleList(kept: Kept): void {
    const { rules } = this;
    if (!rules) {
      kept.state = 'noLists';
      return;
    }
    const { list } = kept;
    const { entries, written } = this.entriesFor(kept, rules);
    const text = listText(list.name, entries, rules);
    const first = list.entries.flatMap((entry) => this.outOf(entry)?.order ?? [])[0] ?? 0;
    const wanted =
      entries.length > 0 ? listFile(list.id, kept.path, { text, rules }, first, this.keys) : null;
    kept.written = written;
    kept.drift = null;
    const { state, said } = this.standing(kept, wanted, rules);
    kept.state = state;
    kept.said = this.findings.exchange(kept.said, said);
    kept.bytes = state === 'goes' && wanted ? bytesOf(wanted) - this.world.bytesOfList(list.id) : null;
    if (kept.bytes !== null && this.out.has(list.id)) kept.state = 'noRoom';
    // The existing file stays until it can be replaced. If the number of files is the limit, it gives way to items.
    const isBlocked = state === 'occupied' || state === 'tooLong' || this.out.get(list.id) === 'bytes';
    this.world.holdList(list.id, isBlocked);
    const want = kept.state === 'goes' ? wanted : null;
    kept.barred = state === 'occupied' ? wanted : null;
    const isSame = want?.path === kept.want?.path && want?.signature === kept.want?.signature;
    if (isSame && want?.order === kept.want?.order) return;
    if (kept.want) this.world.unwant(kept.want);
    if (want) this.world.want(want);
    kept.want = want;
  }

  /** Whether its file goes to its path, with the remarks about that. */
  private standing(
    kept: Kept,
    wanted: Want | null,
    rules: ListRules,
  ): { readonly state: ListState; readonly said: readonly Remark[] } {
    const { list, path } = kept;
    const drift = this.driftsOf.get(list.id);
    const gone = this.world.there.goneLists.get(list.id);
    if (gone) return { state: 'away', said: [say.listAway(list, gone)] };
    if (drift?.type === 'removed') {
      const side = this.world.settleDrift(
        drift,
        wanted && { signature: wanted.signature, fields: EMPTY_FIELDS },
      );
      if (side === 'open' && wanted) return { state: 'waits', said: [say.listRemoved(list, drift)] };
      if (side === 'there') return { state: 'away', said: NONE };
    } else if (drift) {
      const merged = this.mergedWith(drift, kept, rules);
      kept.drift = merged;
      const side = this.sideOf(drift, merged);
      // If the player wins with a text that cannot be merged, the file becomes the player's own.
      this.world.settleListDrift(drift, side, merged.open === null ? merged.text : null);
      if (side === 'open') return { state: 'waits', said: [say.listChanged(list, drift, merged)] };
      if (side === 'there' && merged.open !== null) return { state: 'away', said: NONE };
    }
    if (!wanted) return { state: 'empty', said: NONE };
    const long = tooLong(path, this.rulebook);
    if (long) return { state: 'tooLong', said: [say.listTooLong(list, path, long)] };
    const obstacle = this.world.obstacleAt(path, null);
    return obstacle
      ? { state: 'occupied', said: [say.listOccupied(list, path, obstacle)] }
      : { state: 'goes', said: NONE };
  }

  private mergedWith(drift: Drift, { list }: Kept, rules: ListRules): ListDrift {
    const itemAt = (paths: readonly string[]) => {
      for (const path of paths) {
        const item = this.itemAt(this.keys.of(path));
        if (item !== null) return item;
      }
      return null;
    };
    const merged = mergeList(list, drift, rules, itemAt, (entry) => this.outOf(entry) !== null);
    return this.taken.has(list.id) ? { ...merged, change: null, open: null } : merged;
  }

  /** The item whose copy is at a path, or was there when both sides last agreed. */
  private itemAt(key: string): ItemId | null {
    const item = itemOf(this.world.there.ours.get(key)?.placed.owner);
    if (item !== null) return item;
    this.leftAt ??= new Map(
      this.placed.flatMap(({ path, owner }) => {
        const own = itemOf(owner);
        return own === null ? [] : [[this.keys.of(path), own] as const];
      }),
    );
    return this.leftAt.get(key) ?? null;
  }

  private sideOf({ decided, by, past, isWipe }: Drift, { open }: ListDrift): Side | 'open' {
    if (decided) return decided;
    if (this.policy === 'leads' && by === null) return 'here';
    return this.policy === 'ask' || by !== null || past !== null || isWipe || open !== null
      ? 'open'
      : 'there';
  }

  private outOf(entry: ListEntry): Outgoing | null {
    return 'item' in entry ? (this.outs.get(entry.item) ?? null) : null;
  }

  /** The entries of its file: items that are copied to the player, and other files there by the paths in the list. */
  private entriesFor({ list, path }: Kept, rules: ListRules) {
    const entries: OpenSaid[] = [];
    const written = new Set<number>();
    const most = rules.most ?? Infinity;
    list.entries.forEach((entry, index) => {
      if (entries.length >= most) return;
      const said = this.saidOf(entry, path, rules);
      if (!said) return;
      written.add(index);
      entries.push(said);
    });
    return { entries, written };
  }

  /** Whether a foreign file is at one of these paths: lists keep naming it. */
  private isOthers(paths: readonly string[]): boolean {
    const { there } = this.world;
    return paths.some((path) => {
      const key = this.keys.of(path);
      return there.files.has(key) && !there.ours.has(key);
    });
  }

  private saidOf(entry: ListEntry, path: string, rules: ListRules): OpenSaid | null {
    if ('open' in entry) return this.isOthers(pathsThere(rules, path, entry.open.path)) ? entry.open : null;
    const out = this.outs.get(entry.item);
    const named = out && namedIn(rules, path, out.path);
    if (!out || named === null || named === undefined) return null;
    const { fields, durationSeconds } = out.item;
    return {
      path: named,
      title: fields.title,
      artist: fieldText(fields.artist) || null,
      seconds: durationSeconds,
    };
  }
}

const NOBODY: ReadonlySet<number> = new Set();
const NONE_TAKEN: ReadonlySet<ListId> = new Set();

const newKept = (list: PlayerList): Kept => ({
  list,
  path: '',
  state: 'empty',
  want: null,
  barred: null,
  bytes: null,
  said: NONE,
  drift: null,
  written: NOBODY,
});
