import { EMPTY_FIELDS, type Edits, type FrontPicture, type ItemId } from '../../items';
import type { ListId } from '../../lists';
import { extensionOf, folderOf } from '../../paths';
import { roleOf, type Rulebook } from '../../rulebooks';
import type { Planned } from '../outgoing/item-plan';
import { groupOf, isOfFolder } from '../owner';
import type { Findings } from '../findings/findings';
import type { PathKeys } from '../path-keys';
import { differingEdits, sideOf, type Drift, type WantedOfDrift } from '../there/drift';
import * as say from '../findings/remark';
import type { Remark } from '../findings/remark';
import { RoomByKind } from './room-by-kind';
import type { Shelves } from '../shown/shelves';
import type { TreeFile } from '../shown/showing';
import type { PlacedFile, ThereFile } from '../there/files';
import type { Side, SyncPolicy } from '../there/sides';
import type { StepType } from '../step';
import { agreeOn, foundThere, type Agree } from './agreements';
import { HeldFolders } from './held-folders';
import { orderedSteps } from './steps';
import type { Decided, Ours, There } from '../there/there';
import type { RoomTaken } from './room';
import { CURRENT, WRITE, bytesOf, isTagged, type Action, type Fate, type Want } from './want';

/** Steps of each type, without those that only make room for others. */
export type StepCounts = Record<StepType, number>;

/** What occupies the path of a wanted file. */
export type Obstacle =
  | { readonly type: 'folder' }
  /** A foreign file that will be renamed to this path. */
  | { readonly type: 'coming'; readonly path: string }
  | { readonly type: 'changed'; readonly drift: Drift }
  | { readonly type: 'other'; readonly file: ThereFile };

/** The outcome of a drift for the current state of its item. */
interface Settled {
  readonly decided: Side | null;
  readonly side: Side | 'open';
  readonly wanted: WantedOfDrift | null;
  readonly agree: Agree | null;
  readonly remark: Remark | null;
  /** Edits for its item if the player's side was chosen. */
  readonly edits: Edits | null;
}

/**
 * Compares the wanted files with those on the player. Changes are handled by item and by path, so that they cost only
 * what they touch. Paths are compared as the player does.
 */
export class World {
  readonly counts: StepCounts = {
    agree: 0,
    makeFolder: 0,
    copy: 0,
    writePicture: 0,
    writeText: 0,
    move: 0,
    remove: 0,
  };
  /** Changes that come from the player into the library before a run. */
  readonly comes = { edits: 0, files: 0 };
  /** Bytes of the originals that will be copied. */
  bytes = 0;
  tagged = 0;
  current = 0;
  readonly room: RoomByKind;
  private readonly wants = new Map<string, Want>();
  private readonly fates = new Map<string, Fate>();
  /** Number of our files that stay only because their owner is held back. */
  private keptFiles = 0;
  private listFiles = 0;
  /** Paths at which a file with another spelling is removed first. */
  private readonly clears = new Set<string>();
  /** Paths at which a file is overwritten. */
  private readonly replaced = new Set<string>();
  private readonly staying = new Map<string, readonly TreeFile[]>();
  /** Folders that will be made, with the number of wanted files in each. */
  private readonly folders = new Map<string, number>();
  /** Groups of interchangeable files that have to be settled again. */
  private readonly groups = new Set<string>();
  private readonly wantsOf = new Map<string, Set<Want>>();
  private readonly heldFolders: HeldFolders;
  /** Lists that are held back: their files stay as they are. */
  private readonly heldLists = new Set<string>();
  private readonly places = new Set<string>();
  private readonly renamedTo: ReadonlyMap<string, string>;
  private readonly drifts = new Map<Drift, Settled>();
  private readonly changedOwners = new Set<string>();

  constructor(
    readonly there: There,
    private readonly rulebook: Rulebook,
    private readonly keys: PathKeys,
    private readonly findings: Findings,
    private readonly shelves: Shelves,
    private readonly policy: SyncPolicy,
  ) {
    this.heldFolders = new HeldFolders(there, keys);
    this.room = new RoomByKind(rulebook, there.list);
    for (const group of there.oursOf.keys()) this.groups.add(group);
    for (const key of there.files.keys()) this.places.add(key);
    const moves = [...there.renamed.values()];
    this.renamedTo = new Map(moves.map(({ from, path }) => [from, path]));
    for (const { path } of moves) this.needFolder(folderOf(path), 1);
    this.counts.move = moves.length;
    this.counts.agree = there.noted.length;
    for (const drift of there.drifts.values()) this.settleDrift(drift, null);
  }

  /** A remark about what occupies the path of an item's file; null if the path is free. */
  inTheWay(path: string, entry: Planned, severity: 'blocks' | 'warns'): Remark | null {
    const obstacle = this.obstacleAt(path, entry.id);
    switch (obstacle?.type) {
      case undefined:
        return null;
      case 'folder':
        return say.folderThere(entry, path, severity);
      case 'coming':
        return say.comingThere(entry, obstacle.path, severity);
      case 'changed':
        return say.changedThere(entry, obstacle.drift, severity);
      case 'other':
        return say.occupied(entry, obstacle.file, severity, this.there.otherAt(obstacle.file.path));
    }
  }

  /**
   * What occupies a path or a folder above it, unless it is ours or may be replaced; null for nothing.
   * @param item whose file is to be written there; null for a shared file
   */
  obstacleAt(path: string, item: ItemId | null): Obstacle | null {
    const { there } = this;
    if (!there.hasWhatStays) return null;
    if (there.isFolder(this.keys.of(path))) return { type: 'folder' };
    for (let at = path; at !== ''; at = folderOf(at)) {
      const key = this.keys.of(at);
      const coming = there.renamed.get(key);
      if (coming) return { type: 'coming', path: coming.path };
      const file = there.files.get(key);
      if (!file || there.mayReplace(key)) continue;
      if (there.ours.has(key) && !there.isTakenFrom(key, item)) continue;
      const drift = there.changedAt(key);
      return drift ? { type: 'changed', drift } : { type: 'other', file };
    }
    return null;
  }

  want(want: Want): void {
    this.wants.set(want.key, want);
    if (want.owner.type === 'list') this.listFiles++;
    const group = groupOf(want) as string;
    const own = this.wantsOf.get(group);
    if (own) own.add(want);
    else this.wantsOf.set(group, new Set([want]));
    if (want.file) this.shelves.put(want.file);
    this.touch(want);
  }

  unwant(want: Want): void {
    if (this.wants.get(want.key) === want) this.wants.delete(want.key);
    if (want.owner.type === 'list') this.listFiles--;
    const group = groupOf(want) as string;
    const own = this.wantsOf.get(group);
    if (own?.delete(want) && own.size === 0) this.wantsOf.delete(group);
    if (want.file) this.shelves.take(want.file);
    this.act(want, null);
    this.touch(want);
  }

  /** Bytes to be written, and our files on the player after the run, without lists. */
  get amount(): RoomTaken {
    return { bytes: this.bytes, files: this.wants.size - this.listFiles + this.keptFiles };
  }

  /** Whether a file of an item that we wrote is there. */
  hasAny(item: ItemId): boolean {
    return (this.there.oursOf.get(item)?.length ?? 0) > 0;
  }

  /** The wanted files at these keys. */
  wantedAt(keys: ReadonlySet<string>): readonly Want[] {
    return [...keys].flatMap((key) => this.wants.get(key) ?? []);
  }

  isWanted(path: string): boolean {
    return this.wants.has(this.keys.of(path));
  }

  /** An item is held back now, or no longer: its files stay, and so do the pictures of their folders. */
  holdChanged(item: ItemId, held: boolean): void {
    const { there } = this;
    if (there.oursOf.has(item)) this.groups.add(item);
    for (const folder of this.heldFolders.change(item, held))
      for (const group of there.picturesIn.get(folder) ?? []) this.groups.add(group);
  }

  /** A list is held back now, or no longer: its file stays. */
  holdList(list: ListId, held: boolean): void {
    const group = groupOf({ owner: { type: 'list', list }, signature: '' }) as string;
    if (held === this.heldLists.has(group)) return;
    if (held) this.heldLists.add(group);
    else this.heldLists.delete(group);
    if (this.there.oursOf.has(group)) this.groups.add(group);
  }

  /** Bytes of the files that we wrote for a list. A new version takes their space. */
  bytesOfList(list: ListId): number {
    const group = groupOf({ owner: { type: 'list', list }, signature: '' }) as string;
    return (this.there.oursOf.get(group) ?? []).reduce((sum, { file }) => sum + file.size, 0);
  }

  /** The files that are wanted for an item: its copy and its sidecar. */
  wantedOf(item: ItemId): readonly Want[] {
    return [...(this.wantsOf.get(item) ?? NOTHING_WANTED)];
  }

  /** Decides about a picture that was changed on the player. @param picture null if it is no longer wanted */
  settlePicture(path: string, picture: FrontPicture | null): void {
    const drift = this.there.drifts.get(this.keys.of(path));
    if (drift && isOfFolder(drift.placed?.owner))
      this.settleDrift(drift, picture && { signature: picture.key, fields: EMPTY_FIELDS });
  }

  /** Decides about a drift for the current state of its item. @param wanted null if it is no longer wanted */
  settleDrift(drift: Drift, wanted: WantedOfDrift | null): Side | 'open' {
    const before = this.drifts.get(drift);
    const side = sideOf(drift, this.policy, wanted);
    const { decided } = drift;
    if (before?.side === side && before.decided === decided && isSameWanted(before.wanted, wanted))
      return side;
    const isMedia = drift.placed !== null && this.there.isMedia(drift.placed);
    const agree = agreeOn(drift, this.there.files.get(drift.key) ?? null, side, wanted, isMedia);
    const remark = side === 'open' && !wanted ? say.drifted(drift) : null;
    const edits = side === 'there' ? editsFrom(drift, wanted) : null;
    const after = { decided, side, wanted, agree, remark, edits };
    if (before) this.countDrift(drift, before, -1);
    this.countDrift(drift, after, 1);
    if (before?.remark) this.findings.remove(before.remark);
    if (remark) this.findings.add(remark);
    this.drifts.set(drift, after);
    const { type, file, placed } = drift;
    if (file) this.places.add(this.keys.of(file.path));
    const group = placed && groupOf(placed);
    if (group) this.groups.add(group);
    if (type === 'changed' && isMedia && side !== 'here') {
      this.changedOwners.add(drift.key);
      this.there.setOurs(drift.key, drift.file as ThereFile, wanted && (agree?.record ?? null));
      if (!this.there.ours.has(drift.key)) this.forgetFate(drift.key);
    }
    return side;
  }

  /**
   * Decides about a list that was changed on the player. Its new content is the result of merging.
   * @param text its content there, if it can be merged
   */
  settleListDrift(drift: Drift, side: Side | 'open', text: string | null): void {
    const file = drift.file as ThereFile;
    const placed = drift.placed as PlacedFile;
    const { path, size, digest } = file;
    const record: PlacedFile | null =
      side !== 'there'
        ? null
        : text === null
          ? { ...placed, path, size, digest, owner: null, theirs: true }
          : { ...placed, path, size, digest, signature: text };
    const agree: Agree | null = record && {
      type: 'agree',
      path,
      from: placed.path,
      was: { size, digest },
      record,
    };
    const before = this.drifts.get(drift);
    const after = { decided: drift.decided, side, wanted: null, agree, remark: null, edits: null };
    if (before && JSON.stringify(before) === JSON.stringify(after)) return;
    if (before) this.countDrift(drift, before, -1);
    this.countDrift(drift, after, 1);
    if (before?.remark) this.findings.remove(before.remark);
    this.drifts.set(drift, after);
    this.places.add(drift.key);
    this.groups.add(groupOf(placed) as string);
    // The library's side was chosen, so the file may already be overwritten.
    if (side === 'here') return;
    this.there.setOurs(drift.key, file, text === null ? null : record);
    if (!this.there.ours.has(drift.key)) this.forgetFate(drift.key);
  }

  /** All drifts with their outcome. */
  allDrifts(): ReadonlyMap<Drift, Settled> {
    return this.drifts;
  }

  /** Keys of files whose ownership changed since the last call: items that want them have to be looked at again. */
  takeChangedOwners(): ReadonlySet<string> {
    const keys = new Set(this.changedOwners);
    this.changedOwners.clear();
    return keys;
  }

  /** Applies decisions about single files. */
  takeIn({ drifts, dropped, keys }: Decided): void {
    for (const drift of dropped) {
      const settled = this.drifts.get(drift);
      if (!settled) continue;
      this.countDrift(drift, settled, -1);
      if (settled.remark) this.findings.remove(settled.remark);
      this.drifts.delete(drift);
      if (drift.file) this.places.add(this.keys.of(drift.file.path));
    }
    // Uses the item as it was; a changed item is looked at again later.
    for (const drift of drifts) this.settleDrift(drift, this.drifts.get(drift)?.wanted ?? null);
    for (const key of keys) {
      this.places.add(key);
      const ours = this.there.ours.get(key);
      const group = ours && groupOf(ours.placed);
      if (group) this.groups.add(group);
      const want = this.wants.get(key);
      if (want) this.groups.add(groupOf(want) as string);
    }
  }

  private countDrift({ type }: Drift, { side, agree, edits }: Settled, by: 1 | -1): void {
    if (agree) this.counts.agree += by;
    if (edits) this.comes.edits += by;
    if (type === 'added' && side === 'there') this.comes.files += by;
  }

  /** @param entryOf the entry of an item, undefined if it was removed from the library */
  settle(entryOf: (item: ItemId) => { readonly held: boolean } | undefined): void {
    // Whether a picture stays can depend on items, so groups of pictures come last.
    for (const group of this.groups)
      this.settleGroup(group, this.heldLists.has(group) || (entryOf(group as ItemId)?.held ?? false));
    this.groups.clear();
    for (const key of this.places) this.settlePlace(key);
    this.places.clear();
  }

  /** Number of files that were added on the player and that it plays. */
  addedCount(): number {
    return [...this.drifts.keys()].filter(({ type }) => type === 'added').length;
  }

  foreignCount(): number {
    const { list, ours, leaving } = this.there;
    return list.length - ours.size - leaving.size;
  }

  /** Unplanned files that stay, under the names that they will have, as the player lists them. */
  stayingFiles(): readonly TreeFile[] {
    return this.there.list.flatMap(({ path }) => {
      const to = this.comingName(path);
      return this.staying.get(this.keys.of(path))?.find((file) => file.path === to) ?? [];
    });
  }

  /** All wanted files: copies first, then pictures and sidecars, each in the order of their items. */
  wanted(): readonly Want[] {
    const rank = { copy: 0, writePicture: 1, writeText: 2 } as const;
    return [...this.wants.values()].sort(
      (a, b) => rank[a.making.type] - rank[b.making.type] || a.order - b.order || (a.path < b.path ? -1 : 1),
    );
  }

  /** The steps to the wanted state, in an order in which no name is still in use. */
  steps(token: string) {
    const { there, fates, keys } = this;
    const agrees = [
      ...there.noted.map(foundThere),
      ...[...this.drifts.values()].flatMap(({ agree }) => agree ?? []),
    ];
    const isWritten = this.rulebook.disk.order === 'written';
    const wanted = this.wanted();
    return [...agrees.sort(byPath), ...orderedSteps({ there, fates, keys, wanted, isWritten, token })];
  }

  private touch(want: Want): void {
    const { key } = want;
    const { there } = this;
    const group = groupOf(want) as string;
    // If no file of it is there, it can only be written.
    if (there.isUntouched && !there.ours.has(key) && !there.oursOf.has(group)) {
      if (this.wants.get(key) === want) this.act(want, WRITE);
    } else {
      this.groups.add(group);
      const ours = there.ours.get(key);
      const other = ours && groupOf(ours.placed);
      if (other) this.groups.add(other);
    }
    this.touchPlace(key);
  }

  /** Only paths where a file exists have to be settled. */
  private touchPlace(key: string): void {
    if (this.there.files.has(key)) this.places.add(key);
  }

  /** The file is there as our run left it, under its wanted name or under the name that the player turned that into. */
  private isCurrent({ path, key, signature }: Want): boolean {
    const ours = this.there.ours.get(key);
    if (!ours || (ours.file.path !== path && ours.placed.path !== path)) return false;
    return ours.placed.signature === signature || ours.placed.theirs === true;
  }

  /**
   * Compares the wanted files of an item, or of one picture, with its files on the player.
   * @param held the item is held back
   */
  private settleGroup(group: string, held: boolean): void {
    // Always in the same order, so that of two wanted files that could come from one file, the same one gets it.
    const ours = this.there.oursOf.get(group);
    const wanted = this.wantsOf.get(group) ?? NOTHING_WANTED;
    if (!ours) {
      for (const want of wanted) this.act(want, this.isCurrent(want) ? CURRENT : WRITE);
      return;
    }
    const open: Want[] = [];
    for (const want of wanted)
      if (this.isCurrent(want)) this.act(want, CURRENT);
      else open.push(want);
    const leaving = new Set<Ours>();
    if (open.length > 0) {
      const loose = this.looseOf(ours);
      for (const want of open.sort((a, b) => (a.path < b.path ? -1 : 1))) {
        const alike = loose.get(looseKey(want.signature, want.path)) ?? [];
        const at = alike.findLastIndex(({ file }) => file.path !== want.path);
        const [from] = at < 0 ? [] : alike.splice(at, 1);
        if (from) leaving.add(from);
        this.act(want, from ? { type: 'move', from } : WRITE);
      }
    }
    for (const one of ours) {
      if (leaving.has(one)) this.decide(one.key, 'leaves');
      else if (this.wants.has(one.key)) this.decide(one.key, 'stays');
      else {
        // The files of held-back items stay.
        const stays = held || this.isHeldPicture(one) || this.mayStay(one, wanted.size > 0);
        this.decide(one.key, stays ? 'kept' : 'goes');
      }
    }
  }

  /**
   * Files of ours that are no longer wanted under their name but whose bytes may still be wanted, by what they can
   * become.
   */
  private looseOf(ours: readonly Ours[]): Map<string, Ours[]> {
    const loose = new Map<string, Ours[]>();
    for (const one of ours) {
      const want = this.wants.get(one.key);
      if (want && this.isCurrent(want)) continue;
      const key = looseKey(one.placed.signature, one.placed.path);
      const alike = loose.get(key);
      if (alike) alike.push(one);
      else loose.set(key, [one]);
    }
    return loose;
  }

  /** The picture of a folder stays as long as files of its items do. */
  private isHeldPicture({ file: { path }, placed: { owner } }: Ours): boolean {
    return isOfFolder(owner) && this.heldFolders.has(folderOf(path));
  }

  private settlePlace(key: string): void {
    const { there } = this;
    const file = there.files.get(key);
    const want = this.wants.get(key);
    if (!file) return;
    const ours = there.ours.get(key);
    // A file without a known item is not kept for one.
    if (ours?.placed.owner === null || there.leaving.has(key)) this.decide(key, want ? 'stays' : 'goes');
    const isOpen = want?.action != null && want.action.type !== 'current';
    this.clear(key, isOpen && this.fates.get(key) !== 'leaves' && file.path !== want.path);
    const isReplaced = isOpen && this.fates.get(key) !== 'leaves' && file.path === want.path;
    if (isReplaced !== this.replaced.has(key)) {
      this.countRemoved(key, isReplaced ? 1 : -1);
      if (isReplaced) this.replaced.add(key);
      else this.replaced.delete(key);
    }
    const stays = !want && !there.leaving.has(key) && (!ours || this.fates.get(key) === 'kept');
    if (stays !== this.staying.has(key)) this.letStay(key, stays);
  }

  private act(want: Want, action: Action | null): void {
    const before = want.action;
    if (before?.type === action?.type && !(action?.type === 'move' && before?.type === 'move')) return;
    this.count(want, before, -1);
    this.count(want, action, 1);
    want.action = action;
    this.touchPlace(want.key);
  }

  private count(want: Want, action: Action | null, by: 1 | -1): void {
    if (action === null) return;
    if (action.type === 'current') {
      this.current += by;
      return;
    }
    this.needFolder(folderOf(want.path), by);
    if (action.type === 'move') {
      this.counts.move += by;
      return;
    }
    this.counts[want.making.type] += by;
    this.room.count('adds', want.path, by * bytesOf(want));
    if (want.making.type !== 'copy') return;
    this.bytes += by * bytesOf(want);
    if (isTagged(want)) this.tagged += by;
  }

  private decide(key: string, fate: Fate): void {
    const before = this.fates.get(key);
    if (before === fate) return;
    if (before === 'goes') this.countRemove(key, -1);
    if (fate === 'goes') this.countRemove(key, 1);
    this.keptFiles += Number(fate === 'kept') - Number(before === 'kept');
    this.fates.set(key, fate);
    this.places.add(key);
  }

  /** A file that is no longer ours needs no decision. */
  private forgetFate(key: string): void {
    if (this.fates.get(key) === 'goes') this.countRemove(key, -1);
    if (this.fates.get(key) === 'kept') this.keptFiles--;
    this.fates.delete(key);
    this.places.add(key);
  }

  private clear(key: string, clears: boolean): void {
    if (clears === this.clears.has(key)) return;
    this.countRemove(key, clears ? 1 : -1);
    if (clears) this.clears.add(key);
    else this.clears.delete(key);
  }

  private countRemove(key: string, by: 1 | -1): void {
    this.counts.remove += by;
    this.countRemoved(key, by);
  }

  private countRemoved(key: string, by: 1 | -1): void {
    const file = this.there.files.get(key);
    if (file) this.room.count('removes', file.path, by * file.size);
  }

  /** It is no longer wanted, but the player's side was chosen. */
  private mayStay({ file, placed }: Ours, isWanted: boolean): boolean {
    if (placed.theirs || (placed.taken && !isWanted)) return true;
    const drift = this.there.drifts.get(this.keys.of(placed.path));
    return drift?.type === 'moved' && drift.file === file && this.drifts.get(drift)?.side !== 'here';
  }

  private letStay(key: string, stays: boolean): void {
    for (const file of this.staying.get(key) ?? []) this.shelves.take(file);
    this.staying.delete(key);
    if (!stays) return;
    const files = this.there.allAt(key).map(({ path }): TreeFile => {
      const to = this.comingName(path);
      return { path: to, role: roleOf(this.rulebook, to), item: null, kind: null, fields: null, text: null };
    });
    this.staying.set(key, files);
    for (const file of files) this.shelves.put(file);
  }

  private comingName(path: string): string {
    return this.renamedTo.get(path) ?? path;
  }

  /** Counts a folder and those above it as needed, or no longer. */
  private needFolder(folder: string, by: 1 | -1): void {
    if (folder === '') return;
    const key = this.keys.of(folder);
    if (this.there.folders.has(key)) return;
    const before = this.folders.get(key) ?? 0;
    const after = before + by;
    if (after === 0) this.folders.delete(key);
    else this.folders.set(key, after);
    if (before > 0 && after > 0) return;
    this.counts.makeFolder += by;
    this.needFolder(folderOf(folder), by);
  }
}

const byPath = (a: Agree, b: Agree) => (a.path < b.path ? -1 : 1);

const isSameWanted = (a: WantedOfDrift | null, b: WantedOfDrift | null) =>
  a?.signature === b?.signature && a?.fields === b?.fields;

const editsFrom = ({ type, file }: Drift, wanted: WantedOfDrift | null): Edits | null =>
  type === 'changed' && wanted && file?.says ? differingEdits(file.says, wanted.fields) : null;

const NOTHING_WANTED: ReadonlySet<Want> = new Set();

const looseKey = (signature: string, path: string): string => `${extensionOf(path)} ${signature}`;
