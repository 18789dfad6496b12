import type { ItemId } from '../../items';
import type { ListId } from '../../lists';
import { extensionOf, folderOf, nameOf } from '../../paths';
import { placesAt, roleOf, type Rulebook } from '../../rulebooks';
import type { Drift, DriftType } from './drift';
import { ForeignFiles, Listing } from './listing';
import { FixedFolders } from './fixed-folders';
import { groupOf, isOfFolder, isSameOwner, itemOf } from '../owner';
import type { PathKeys } from '../path-keys';
import { permits, type Permission } from './permission';
import type { Selection } from '../selection';
import { factsOf, mayBe, pastKey, type FileFacts, type PlacedFile, type ThereFile } from './files';
import type { FailedStep, Step } from '../step';
import type { PlayerChoices } from '../choices';
import type { Side, SideChoice, SyncPolicy } from './sides';

type Move = Extract<Step, { type: 'move' }>;

/** A file on the player that both sides agree on and that has not changed since, judging by a listing. */
export interface Ours {
  readonly key: string;
  readonly file: ThereFile;
  readonly placed: PlacedFile;
}

/** What decisions about single files affect. */
export interface Decided {
  readonly drifts: Drift[];
  /** Drifts that no longer exist. */
  readonly dropped: Drift[];
  /** Keys of files that became ours or may be replaced now. */
  readonly keys: Set<string>;
  readonly items: Set<ItemId>;
  /** Keys of folders whose spelling may no longer be fixed. */
  readonly unfixed: Set<string>;
}

/** What a player's files are compared with. */
export interface Agreed {
  /** Files that earlier runs wrote. */
  readonly placed: readonly PlacedFile[];
  readonly choices: PlayerChoices;
  readonly policy: SyncPolicy;
  /** All items if absent. */
  readonly selection?: Selection;
  /** Bytes that may be written; unknown if absent. */
  readonly free?: number | null;
  /** Steps of the last run that failed. */
  readonly failed?: readonly FailedStep[];
  /** Files there that are known to be ours although both sides did not agree on them yet; none if absent. */
  readonly found?: readonly PlacedFile[];
  /** When another library that wrote a file there last ran, in milliseconds since 1970, by path; none if absent. */
  readonly others?: ReadonlyMap<string, number>;
  /** Until when our files were there that were replaced, renamed or removed since, by `pastKey`. */
  readonly past?: ReadonlyMap<string, number>;
}

const NOTHING_FOUND: readonly PlacedFile[] = [];
const NO_PAST: ReadonlyMap<string, number> = new Map();
const NO_OTHERS: ReadonlyMap<string, number> = new Map();

/**
 * The player's files compared with the base. A file of the base is ours only while the player lists it as we left it;
 * anything else is a drift. Nothing here depends on what is planned.
 */
export class There {
  /** Empty if the player's file system is case sensitive. */
  readonly fixedFolders: FixedFolders;
  readonly ours = new Map<string, Ours>();
  /** By owner: an item, a list, or a picture. */
  readonly oursOf = new Map<string, Ours[]>();
  /** Our pictures of folders, by the key of the folder. */
  readonly picturesIn = new Map<string, string[]>();
  /** Drifts by where we left the file, and files that were added. */
  readonly drifts = new Map<string, Drift>();
  readonly driftsOf = new Map<ItemId, Drift[]>();
  /** Lists whose files were removed there and stay away. */
  readonly goneLists = new Map<ListId, PlacedFile>();
  /** Items that stay away by agreement. */
  readonly away = new Map<ItemId, PlacedFile>();
  /**
   * Files to be recorded as ours: those that had been removed and are there again, and those that were found to be
   * ours.
   */
  readonly noted: Ours[] = [];
  /** Files that are the player's own by agreement. */
  private readonly theirs = new Set<string>();
  /** Foreign files that may be replaced and have not changed since, by key. */
  private readonly free: Map<string, Permission>;
  /** Renames of foreign files that will be done, by the key of their new path. Decided before anything is named. */
  readonly renamed = new Map<string, Move>();
  /** Foreign files that will be removed, by key. Decided before anything is named. */
  readonly leaving = new Map<string, ThereFile>();
  private readonly foreign: ForeignFiles;
  private readonly listing: Listing;
  /** Files of the base that are missing, by size and digest: they may be found elsewhere. */
  private readonly lost = new Set<string>();
  /** Files that stay away, by item, and these items by the key of the path. */
  private readonly goneOf = new Map<ItemId, PlacedFile[]>();
  private readonly goneAt = new Map<string, Set<ItemId>>();
  /** Keys of recorded paths of files that stay where the player has them. */
  private readonly keptKeys = new Set<string>();
  private hasTaken = false;
  /** Ownership has been decided once; from then on it is only updated. */
  private isClaimed = false;
  private readonly sides: Map<string, SideChoice>;
  private readonly leads: boolean;
  private readonly past: ReadonlyMap<string, number>;
  /** Until when files that came back were there, in milliseconds since 1970; null if none did. */
  private readonly cameBack: number | null;
  private readonly others: ReadonlyMap<string, number>;

  constructor(
    readonly list: readonly ThereFile[],
    { placed, choices, policy, found = NOTHING_FOUND, others = NO_OTHERS, past = NO_PAST }: Agreed,
    private readonly keys: PathKeys,
    private readonly rulebook: Rulebook,
  ) {
    this.fixedFolders = new FixedFolders(keys);
    this.listing = new Listing(list, keys);
    this.foreign = new ForeignFiles(keys);
    this.free = new Map(choices.replace.flatMap((one) => this.permitted(one)));
    this.sides = new Map(choices.sides.map((side) => [keys.of(side.path), side]));
    this.leads = policy === 'leads';
    this.others = others;
    this.past = past;
    this.cameBack = whenBack(list, placed, past);
    this.claimFound(
      placed.map((record) => this.asOwned(record)),
      found.map((record) => this.asOwned(record)),
    );
    for (const rename of choices.renames) this.acceptRename(rename);
    for (const removal of choices.removes) this.acceptRemoval(removal);
    if (this.leaving.size > 0) this.followLeaving();
    for (const [key, { path }] of this.files) {
      if (this.ours.has(key) || this.leaving.has(key)) continue;
      this.foreign.add(key, path);
    }
    this.findAdded();
    if (rulebook.disk.caseSensitive) return;
    for (const [key, { path }] of this.files)
      if (!this.mayLeave(key)) this.fixedFolders.hold(path, this.listing.orderOf(key));
  }

  /** Records made by earlier versions name one item as the owner of a folder's picture. */
  private asOwned(record: PlacedFile): PlacedFile {
    if (record.owner?.type !== 'item' || roleOf(this.rulebook, record.path) !== 'picture') return record;
    return { ...record, owner: { type: 'shelf', folder: folderOf(record.path) } };
  }

  /** Files by key: the first of those that the player treats as equal. */
  get files(): ReadonlyMap<string, ThereFile> {
    return this.listing.files;
  }

  /** All files of a key. */
  allAt(key: string): readonly ThereFile[] {
    return this.listing.allAt(key);
  }

  /** Keys of all folders that contain something. */
  get folders(): ReadonlySet<string> {
    return this.listing.folders;
  }

  /** Whether anything is there that can be in a plan's way. */
  get hasWhatStays(): boolean {
    return this.files.size > this.ours.size || this.renamed.size > 0 || this.hasTaken;
  }

  /** Whether there is a folder at a key that contains something that stays. */
  isFolder(key: string): boolean {
    return this.foreign.isFolder(key);
  }

  /** Whether an item may not overwrite a file of ours because it was put there for another item. */
  isTakenFrom(key: string, item: ItemId | null): boolean {
    const placed = this.ours.get(key)?.placed;
    const owner = itemOf(placed?.owner);
    if (!placed?.taken || owner === null || owner === item) return false;
    return this.keptFile(owner)?.path === placed.path;
  }

  /** Whether all our files are as we left them and nothing was added. */
  get isUntouched(): boolean {
    return this.drifts.size === 0;
  }

  /** Whether the file at a key may be replaced. */
  mayReplace(key: string): boolean {
    return this.free.has(key) || this.leaving.has(key);
  }

  /** What a run must find at a key in order to touch it: as listed, completed by what was recorded. */
  factsAt(key: string, file: ThereFile): FileFacts {
    const facts = factsOf(file, this.ours.get(key)?.placed ?? null);
    return { ...facts, digest: facts.digest ?? this.free.get(key)?.was.digest ?? null };
  }

  private permitted(permission: Permission): (readonly [string, Permission])[] {
    const key = this.keys.of(permission.path);
    const isSame = this.listing
      .allAt(key)
      .some((file) => file.path === permission.path && permits(permission, file));
    return isSame ? [[key, permission]] : [];
  }

  isFreeFor(from: string, to: string): boolean {
    return this.keys.of(from) === this.keys.of(to) || !this.files.has(this.keys.of(to));
  }

  /** The drift of a file that is still at a key but changed. */
  changedAt(key: string): Drift | null {
    const drift = this.drifts.get(key);
    return drift?.type === 'changed' ? drift : null;
  }

  /** When another library that wrote a file there last ran, in milliseconds since 1970; null if none is known. */
  otherAt(path: string): number | null {
    return this.others.get(path) ?? null;
  }

  /** The path at which the player keeps an item, whatever the rulebook says; null if it follows the rulebook. */
  keptAt(item: ItemId): string | null {
    return this.keptFile(item)?.path ?? null;
  }

  keptFile(item: ItemId): PlacedFile | null {
    for (const { file, placed } of this.oursOf.get(item) ?? [])
      if (placed.kept && this.isMedia(placed) && this.decided(placed.path, file) !== 'here')
        return { ...placed, path: file.path };
    return null;
  }

  /** Makes a file ours, with what both sides agree on now, or not ours any more. */
  setOurs(key: string, file: ThereFile, placed: PlacedFile | null): void {
    const before = this.ours.get(key);
    if (before) this.ours.delete(key);
    const group = (before && groupOf(before.placed)) ?? (placed && groupOf(placed));
    const own: Ours | null = placed && { key, file, placed };
    if (own) this.ours.set(key, own);
    if (group === null) return;
    const rest = (this.oursOf.get(group) ?? []).filter((one) => one.key !== key);
    this.oursOf.set(group, own ? [...rest, own] : rest);
  }

  /**
   * Claims the files that were found to be ours, as long as they are unchanged, and then those that both sides agreed
   * on.
   */
  private claimFound(placed: readonly PlacedFile[], found: readonly PlacedFile[]): void {
    const claimed = new Set<string>();
    if (found.length === 0) return this.claim(placed, claimed);
    /** Records that describe the same file as before. */
    const again = new Set<PlacedFile>();
    const agreed = new Map(placed.map((record) => [this.keys.of(record.path), record]));
    for (const record of found) {
      const key = this.keys.of(record.path);
      const file = this.files.get(key);
      if (file?.path !== record.path || !mayBe(file, record)) continue;
      const own = agreed.get(key);
      if (own && isSameOwner(own.owner, record.owner) && !own.gone) {
        if (own.signature === record.signature && mayBe(file, own)) continue;
        again.add(own);
      }
      const ours = { key, file, placed: record };
      this.noted.push(ours);
      this.ours.set(key, ours);
      claimed.add(key);
    }
    this.claim(
      placed.filter((record) => !again.has(record)),
      claimed,
    );
  }

  /** @param claimed keys of files that are already ours */
  private claim(placed: readonly PlacedFile[], claimed: ReadonlySet<string>): void {
    this.hasTaken = placed.some(({ taken }) => taken);
    const missing: PlacedFile[] = [];
    const changed: PlacedFile[] = [];
    const gone: PlacedFile[] = [];
    for (const record of placed) {
      const key = this.keys.of(record.path);
      const file = this.files.get(key);
      if (record.gone) {
        if (file && isBack(file, record)) this.countAsOurs(key, file, record);
        else gone.push(record);
      } else if (record.theirs && record.owner === null) {
        if (file && mayBe(file, record)) this.theirs.add(key);
      } else if (!file || claimed.has(key)) missing.push(record);
      else if (mayBe(file, record)) this.ours.set(key, { key, file, placed: record });
      else changed.push(record);
    }
    const moved = this.findMoved([...missing, ...changed]);
    const isWipe = missing.length > 0 && this.ours.size + moved.size === 0 && changed.length === 0;
    for (const [record, file] of moved) this.move(record, file);
    const elsewhere = new Set(moved.values());
    for (const record of changed) {
      if (moved.has(record)) continue;
      // Another file of ours may be at its old path.
      if (elsewhere.has(this.files.get(this.keys.of(record.path)) as ThereFile)) missing.push(record);
      else {
        const file = this.files.get(this.keys.of(record.path)) as ThereFile;
        this.change(this.drift('changed', record, file), record);
      }
    }
    for (const record of missing)
      if (!moved.has(record) && (this.isMedia(record) || isOfList(record)))
        this.drift('removed', record, null, isWipe);
    for (const record of gone) {
      const item = itemOf(record.owner);
      const key = this.keys.of(record.path);
      if (record.owner?.type === 'list' && this.decided(record.path, null) !== 'here')
        this.goneLists.set(record.owner.list, record);
      if (item === null) continue;
      this.goneOf.set(item, [...(this.goneOf.get(item) ?? []), record]);
      this.goneAt.set(key, (this.goneAt.get(key) ?? new Set()).add(item));
    }
    for (const record of placed) if (record.kept) this.keptKeys.add(this.keys.of(record.path));
    for (const ours of this.ours.values()) {
      const group = groupOf(ours.placed);
      if (group === null) continue;
      const own = this.oursOf.get(group);
      if (own) own.push(ours);
      else this.oursOf.set(group, [ours]);
      if (isOfFolder(ours.placed.owner)) this.notePicture(ours.file.path, group);
    }
    for (const item of this.goneOf.keys()) this.settleAway(item);
    this.isClaimed = true;
  }

  private countAsOurs(key: string, file: ThereFile, { gone: _, ...placed }: PlacedFile): void {
    const ours = { key, file, placed: { ...placed, path: file.path } };
    this.noted.push(ours);
    this.ours.set(key, ours);
  }

  private notePicture(path: string, group: string): void {
    const folder = this.keys.of(folderOf(path));
    this.picturesIn.set(folder, [...(this.picturesIn.get(folder) ?? []), group]);
  }

  /** Whether an item stays away. One that was requested again since is there or will be copied. */
  private settleAway(item: ItemId): void {
    const gone = this.goneOf.get(item) ?? [];
    const isBack =
      (this.oursOf.get(item) ?? []).some(({ placed }) => this.isMedia(placed)) ||
      gone.some(({ path }) => this.decided(path, null) === 'here');
    const last = gone.at(-1);
    if (last && !isBack) this.away.set(item, last);
    else this.away.delete(item);
  }

  isMedia({ path, owner }: PlacedFile): boolean {
    return owner !== null && roleOf(this.rulebook, path) === 'media';
  }

  /** The new paths of files that we left, found by digest; if there are several, the one with the same name. */
  private findMoved(missing: readonly PlacedFile[]): ReadonlyMap<PlacedFile, ThereFile> {
    const found = new Map<PlacedFile, ThereFile>();
    const lost = new Map<string, PlacedFile[]>();
    for (const record of missing) {
      if (record.digest === null || !this.isMedia(record)) continue;
      const meant = pastKey(record);
      this.lost.add(meant);
      lost.set(meant, [...(lost.get(meant) ?? []), record]);
    }
    if (lost.size === 0) return found;
    const taken = new Set<ThereFile>();
    const pair = (isOne: (record: PlacedFile, file: ThereFile) => boolean) => {
      for (const [key, file] of this.files) {
        if (this.ours.has(key) || taken.has(file) || this.mayReplace(key)) continue;
        const own = lost.get(pastKey(file)) ?? [];
        const record = own.find((one) => !found.has(one) && isOne(one, file));
        if (!record) continue;
        found.set(record, file);
        taken.add(file);
      }
    };
    pair(({ path }, file) => nameOf(path) === nameOf(file.path));
    pair(() => true);
    return found;
  }

  private move(record: PlacedFile, file: ThereFile): void {
    const key = this.keys.of(file.path);
    this.drift('moved', record, file);
    this.ours.set(key, { key, file, placed: record });
  }

  /** What a drift means for the ownership of its file. */
  private change(drift: Drift, record: PlacedFile): void {
    const { key } = drift;
    const file = this.files.get(key) as ThereFile;
    const { size, digest } = file;
    const placed = { ...record, size, digest };
    // The curator or the policy decided for the library: it is replaced or removed.
    if (this.sideHere(drift)) this.take(key, file, { ...placed, signature: '' });
    else if (drift.decided === 'there' && !this.isMedia(record) && !isOfList(record))
      this.take(key, file, { ...placed, theirs: true });
  }

  private take(key: string, file: ThereFile, placed: PlacedFile): void {
    if (!this.isClaimed) {
      this.ours.set(key, { key, file, placed });
      return;
    }
    this.foreign.take(key, file.path);
    this.setOurs(key, file, placed);
  }

  /** Whether the library wins whatever it wants: no change of the item can alter that. */
  private sideHere({ decided, by }: Drift): boolean {
    return decided === 'here' || (decided === null && this.leads && by === null);
  }

  private drift(type: DriftType, placed: PlacedFile | null, file: ThereFile | null, isWipe = false): Drift {
    const path = placed?.path ?? file?.path ?? '';
    const key = this.keys.of(path);
    const decided = this.decided(path, file);
    const by = file && type !== 'moved' ? (this.others.get(file.path) ?? null) : null;
    // Restoring a backup removes what was added since.
    const past =
      type === 'removed'
        ? this.cameBack
        : file && type !== 'moved'
          ? (this.past.get(pastKey(file)) ?? null)
          : null;
    const drift: Drift = { type, key, placed, file, decided, by, past, isWipe };
    this.drifts.set(key, drift);
    const item = itemOf(placed?.owner);
    if (item !== null) this.driftsOf.set(item, [...(this.driftsOf.get(item) ?? []), drift]);
    return drift;
  }

  /** The decision about a file, as long as the file is the same as then. */
  private decided(path: string, found: FileFacts | null): Side | null {
    const choice = this.sides.get(this.keys.of(path));
    if (!choice || (found === null) !== (choice.was === null)) return null;
    return !found || !choice.was || mayBe(found, choice.was) ? choice.side : null;
  }

  /** Files that were added on the player and that it plays. */
  private findAdded(): void {
    const moves = new Set([...this.renamed.values()].map(({ from }) => from));
    for (const [key, file] of this.files) {
      if (this.ours.has(key) || this.drifts.has(key) || this.theirs.has(key)) continue;
      if (this.mayReplace(key) || moves.has(file.path)) continue;
      if (roleOf(this.rulebook, file.path) !== 'media' || placesAt(this.rulebook, file.path).length === 0)
        continue;
      this.drift('added', null, file);
    }
  }

  /** Whether a plan may remove a file, so that the spelling of its folder is not fixed. */
  private mayLeave(key: string): boolean {
    const ours = this.ours.get(key);
    if (!ours || ours.placed.kept) return false;
    const drift = this.drifts.get(this.keys.of(ours.placed.path));
    return drift?.type !== 'moved' || this.sideHere(drift);
  }

  /**
   * Applies decisions about single files.
   * @returns what they affect; null if the consequences go further and everything has to be made again
   */
  decide({ sides, replace }: Pick<PlayerChoices, 'sides' | 'replace'>): Decided | null {
    if (this.renamed.size > 0) return null;
    const more: Decided = { drifts: [], dropped: [], keys: new Set(), items: new Set(), unfixed: new Set() };
    // A file that may be replaced needs no other decision.
    for (const permission of replace) if (!this.giveFree(permission, more)) return null;
    for (const choice of sides) if (!this.decideSide(choice, more)) return null;
    return more;
  }

  private decideSide(choice: SideChoice, more: Decided): boolean {
    const key = this.keys.of(choice.path);
    if (this.sides.has(key)) return false;
    this.sides.set(key, choice);
    for (const item of this.goneAt.get(key) ?? []) {
      this.settleAway(item);
      more.items.add(item);
    }
    for (const [list, { path }] of this.goneLists)
      if (choice.side === 'here' && this.keys.of(path) === key) this.goneLists.delete(list);
    for (const owner of [this.ours.get(key)?.placed.owner, this.drifts.get(key)?.placed?.owner]) {
      const item = itemOf(owner);
      if (item !== null) more.items.add(item);
    }
    const drift = this.drifts.get(key);
    // If it stays where the player has it, decisions are stored under that path rather than the recorded one.
    if (!drift) return !this.keptKeys.has(key);
    const decided = this.decided(choice.path, drift.file);
    if (drift.decided === decided) return true;
    // The library had won and the file was ours: that cannot be undone here.
    if (this.sideHere(drift)) return false;
    drift.decided = decided;
    more.drifts.push(drift);
    more.keys.add(key);
    const { file, placed, type } = drift;
    if (type === 'changed' && placed) this.change(drift, placed);
    const isGiven = decided === 'there' && placed !== null && !this.isMedia(placed) && !isOfList(placed);
    // All else depends on its item, and does not affect the spelling of its folder.
    if (file && type !== 'added' && (this.sideHere(drift) || isGiven))
      this.settleFile(this.keys.of(file.path), more);
    return true;
  }

  private giveFree(permission: Permission, more: Decided): boolean {
    const [given] = this.permitted(permission);
    if (!given) return true;
    const [key] = given;
    const file = this.files.get(key) as ThereFile;
    // It may be one of those that are missing, and then it is not foreign.
    if (this.lost.has(pastKey(file)) || this.ours.has(key)) return false;
    this.free.set(key, permission);
    more.keys.add(key);
    const drift = this.drifts.get(key);
    if (drift?.type === 'added') {
      this.drifts.delete(key);
      more.dropped.push(drift);
    }
    return true;
  }

  /** Updates the folders of a file that may have become ours. */
  private settleFile(key: string, more: Decided): void {
    const ours = this.ours.get(key);
    const { path } = this.files.get(key) as ThereFile;
    if (!ours) return;
    const { owner } = ours.placed;
    const item = itemOf(owner);
    if (item !== null) this.settleAway(item);
    const group = groupOf(ours.placed);
    if (isOfFolder(owner) && group !== null) this.notePicture(path, group);
    more.keys.add(key);
    if (this.mayLeave(key) && !this.rulebook.disk.caseSensitive)
      for (const folder of this.fixedFolders.letGo(path, this.listing.orderOf(key))) more.unfixed.add(folder);
  }

  /** A removal that the curator asked for, if the very file is still there and is not ours by now. */
  private acceptRemoval(removal: Permission): void {
    const key = this.keys.of(removal.path);
    const file = this.files.get(key);
    if (file?.path !== removal.path || !permits(removal, file) || this.ours.has(key)) return;
    if ([...this.renamed.values()].some(({ from }) => from === file.path)) return;
    this.leaving.set(key, { ...file, digest: removal.was.digest });
  }

  /** Pictures and sidecars of others leave with the media beside them, once nothing that is played stays in their folder. */
  private followLeaving(): void {
    const folders = new Set([...this.leaving.values()].map(({ path }) => this.keys.of(folderOf(path))));
    const inFolder = [...this.files].filter(([, { path }]) => folders.has(this.keys.of(folderOf(path))));
    for (const [key, { path }] of inFolder)
      if (this.ours.has(key) || (!this.leaving.has(key) && roleOf(this.rulebook, path) === 'media'))
        folders.delete(this.keys.of(folderOf(path)));
    for (const [key, file] of inFolder) {
      const role = roleOf(this.rulebook, file.path);
      const isBeside = role === 'picture' || role === 'sidecar' || BESIDE_ENDINGS.has(extensionOf(file.path));
      if (isBeside && folders.has(this.keys.of(folderOf(file.path)))) this.leaving.set(key, file);
    }
  }

  /** A rename that the curator asked for, if the file is still there and its new path is free. */
  private acceptRename(rename: PlayerChoices['renames'][number]): void {
    const { path: from, to } = rename;
    const key = this.keys.of(from);
    const file = this.files.get(key);
    if (file?.path !== from || !permits(rename, file)) return;
    if (this.ours.has(key) || this.mayReplace(key) || !this.isFreeFor(from, to)) return;
    if ([...this.renamed.values()].some((other) => other.from === from) || this.renamed.has(this.keys.of(to)))
      return;
    for (let at = folderOf(to); at !== ''; at = folderOf(at))
      if (this.files.has(this.keys.of(at)) || this.renamed.has(this.keys.of(at))) return;
    const was = { ...factsOf(file, null), digest: rename.was.digest };
    const move: Move = { type: 'move', from, path: to, owner: null, was, replaces: null, signature: '' };
    this.renamed.set(this.keys.of(to), move);
  }
}

/** Extensions of files that lie beside media, whatever the rulebook asks for. */
const BESIDE_ENDINGS: ReadonlySet<string> = new Set([
  ...['jpg', 'jpeg', 'png', 'webp', 'gif', 'xml', 'json', 'cue', 'lrc', 'srt', 'vtt', 'ass', 'txt', 'log'],
]);

const isOfList = ({ owner }: PlacedFile): boolean => owner?.type === 'list';

/** Whether a place shows files as they were earlier, as after a backup was restored, and until when they were so. */
function whenBack(
  list: readonly ThereFile[],
  placed: readonly PlacedFile[],
  past: ReadonlyMap<string, number>,
): number | null {
  if (past.size === 0) return null;
  const now = new Set(placed.map(pastKey));
  const back = list.find((file) => past.has(pastKey(file)) && !now.has(pastKey(file)));
  return (back && past.get(pastKey(back))) ?? null;
}

/** A file that had been removed by agreement was put there again. */
const isBack = (file: ThereFile, { size, digest }: PlacedFile): boolean =>
  file.size === size && digest !== null && file.digest === digest;
