import type { ItemId } from '../items';
import { extensionOf, folderOf, nameOf } from '../paths';
import { pathKey } from '../naming';
import { placesAt, roleOf, sidecarFor, type Rulebook } from '../rulebooks';
import type { PlanItem } from './plan-item';
import type { Showing } from './showing';
import type { Report } from './report';
import {
  HOLD_FOLDER,
  mayBe,
  type FileFacts,
  type PlacedFile,
  type PlayerChoices,
  type Step,
  type ThereFile,
} from './step';

/** Something that should lie on the player after the run. */
export interface Wanted {
  readonly path: string;
  readonly item: ItemId;
  readonly signature: string;
  /** The step that would put it there. */
  readonly step: (replaces: FileFacts | null) => Step;
}

type Move = Extract<Step, { type: 'move' }>;
type Remove = Extract<Step, { type: 'remove' }>;

/** A file there that a run of ours put there and that nobody has changed since, as far as a listing tells. */
interface Ours {
  readonly file: ThereFile;
  readonly placed: PlacedFile;
}

/**
 * The player as it is, and what earlier runs know of it. Paths are compared by the player's own idea of equal
 * ones (`pathKey`). What we have on record as placed is ours only while the player still lists it as we left it.
 */
export class World {
  /** Folders that hold files which stay where they are, with all above them: their spelling stands. */
  readonly fixedFolders = new Map<string, string>();
  private readonly files = new Map<string, ThereFile>();
  private readonly ours = new Map<string, Ours>();
  /** Files of ours that another hand has changed. */
  private readonly changed = new Set<string>();
  private readonly mayReplace: ReadonlySet<string>;
  private readonly wantedKeys = new Set<string>();
  /** Files of ours that stay as they are, since their items are held back by what blocks them. */
  private readonly kept = new Set<string>();
  private readonly keys = new Map<string, string>();
  /** Renames of others' files that will be done, by the key of their new path: decided before anything is named. */
  private readonly renamed = new Map<string, Move>();
  private readonly renamedFrom = new Set<string>();

  constructor(
    private readonly there: readonly ThereFile[],
    placed: readonly PlacedFile[],
    choices: PlayerChoices,
    private readonly rulebook: Rulebook,
    private readonly token: string,
  ) {
    for (const file of there) {
      const key = this.key(file.path);
      if (!this.files.has(key)) this.files.set(key, file);
    }
    this.mayReplace = new Set(choices.replace.map((path) => this.key(path)));
    for (const record of placed) this.claim(record);
    for (const rename of choices.renames) this.acceptRename(rename);
    if (rulebook.disk.caseSensitive) return;
    for (const [key, { path }] of this.files) if (!this.ours.has(key)) this.fixFolders(folderOf(path));
  }

  /** Whether a place is free, ours, or given free by the curator; what stands in the way is reported. */
  mayTake(path: string, item: PlanItem, report: Report, severity: 'blocks' | 'warns'): boolean {
    for (let at = path; at !== ''; at = folderOf(at)) {
      const key = this.key(at);
      const coming = this.renamed.get(key);
      if (coming) {
        report.occupied(item, coming.path, severity);
        return false;
      }
      const file = this.files.get(key);
      if (!file || this.ours.has(key) || this.mayReplace.has(key)) continue;
      if (this.changed.has(key)) report.changedThere(item, file.path, severity);
      else report.occupied(item, file.path, severity);
      return false;
    }
    return true;
  }

  /**
   * The steps that bring the player from what it holds to what is wanted, in an order that no name is still taken.
   * @param held items that something blocks: what earlier runs put there of them stays
   */
  stepsFor(
    wanted: readonly Wanted[],
    held: ReadonlySet<ItemId>,
    report: Report,
  ): { steps: Step[]; current: number } {
    for (const { path } of wanted) this.wantedKeys.add(this.key(path));
    for (const [key, { placed }] of this.ours)
      if (placed.item !== null && held.has(placed.item) && !this.wantedKeys.has(key)) this.kept.add(key);
    const folders = this.wantedFolders(wanted);
    const open = wanted.filter((want) => !this.isCurrent(want));
    const moved = this.findMoves(open);
    const leaving = new Set([...moved.values()].map(({ file }) => this.key(file.path)));
    const clearing: Remove[] = [];
    const replaces = (path: string) => this.clearFor(path, leaving, clearing);
    const moves: Move[] = [
      ...this.renamed.values(),
      ...[...moved].map(([want, { file, placed }]): Move => ({
        type: 'move',
        from: file.path,
        path: want.path,
        item: want.item,
        was: factsOf(file, placed),
        replaces: replaces(want.path),
        signature: want.signature,
      })),
    ];
    const writes = open.filter((want) => !moved.has(want)).map((want) => want.step(replaces(want.path)));
    const removes = [...this.ours]
      .filter(([key]) => !this.wantedKeys.has(key) && !leaving.has(key) && !this.kept.has(key))
      .map(([, { file, placed }]): Remove => ({
        type: 'remove',
        path: file.path,
        was: factsOf(file, placed),
      }));
    for (const key of this.changed)
      if (!this.wantedKeys.has(key)) report.changedUnwanted(this.files.get(key)?.path ?? key);
    const inTheWay = ({ path }: Remove) => this.isInTheWay(path, folders);
    const { lifts, plain, lowers } = this.orderMoves(moves, (from) => this.isInTheWay(from, folders));
    const steps = [
      ...clearing,
      ...removes.filter(inTheWay),
      ...lifts,
      ...this.newFolders([...plain, ...lowers, ...writes]),
      ...plain,
      ...lowers,
      ...writes,
      ...removes.filter((step) => !inTheWay(step)),
    ];
    return { steps, current: wanted.length - open.length };
  }

  foreignCount(): number {
    return this.there.length - this.ours.size;
  }

  /** Files there that stay without being planned for, under their coming names: what others put there, and what is kept. */
  staying(): readonly string[] {
    const renamed = new Map([...this.renamed.values()].map(({ from, path }) => [from, path]));
    return this.there
      .filter(({ path }) => {
        const key = this.key(path);
        return !this.wantedKeys.has(key) && (!this.ours.has(key) || this.kept.has(key));
      })
      .map(({ path }) => renamed.get(path) ?? path);
  }

  /** Videos already there that the player does not read, because folder, file and sidecar differ in name. */
  reportForeign(showing: Showing, report: Report): void {
    const missed = showing.unplaced.filter(
      ({ code, path }) =>
        (code === 'namesDiffer' || code === 'noSidecar') && !this.wantedKeys.has(this.key(path)),
    );
    if (missed.length === 0) return;
    const sidecars = new Map<string, string>();
    for (const path of this.staying())
      if (roleOf(this.rulebook, path) === 'sidecar') sidecars.set(folderOf(path), path);
    for (const { path } of missed) {
      const kind = placesAt(this.rulebook, path)[0]?.kinds[0];
      const rules = kind && sidecarFor(this.rulebook, kind);
      if (!rules) continue;
      const folder = folderOf(path);
      const sidecar = sidecars.get(folder) ?? null;
      const base = `${folder}/${nameOf(folder)}`;
      const wanted = [
        { from: path, to: `${base}.${extensionOf(path)}` },
        ...(sidecar ? [{ from: sidecar, to: `${base}.${rules.extension}` }] : []),
      ];
      report.sidecarMismatch(
        path,
        sidecar,
        sidecar ? wanted.filter(({ from, to }) => from !== to && this.isFreeFor(from, to)) : [],
      );
    }
  }

  private key(path: string): string {
    let key = this.keys.get(path);
    if (key === undefined) this.keys.set(path, (key = pathKey(path, this.rulebook.disk)));
    return key;
  }

  private claim(placed: PlacedFile): void {
    const key = this.key(placed.path);
    const file = this.files.get(key);
    if (!file) return;
    if (mayBe(file, placed)) this.ours.set(key, { file, placed });
    // The curator lets it go: whatever it is now, it is replaced or removed.
    else if (this.mayReplace.has(key))
      this.ours.set(key, { file, placed: { ...placed, ...file, path: placed.path, signature: '' } });
    else this.changed.add(key);
  }

  private fixFolders(folder: string): void {
    for (let at = folder; at !== ''; at = folderOf(at)) {
      const key = this.key(at);
      if (this.fixedFolders.has(key)) return;
      this.fixedFolders.set(key, at);
    }
  }

  /** It lies there as our run left it, under its wanted name or under what the player made of that name. */
  private isCurrent({ path, signature }: Wanted): boolean {
    const ours = this.ours.get(this.key(path));
    return ours?.placed.signature === signature && (ours.file.path === path || ours.placed.path === path);
  }

  /** Wanted files whose very bytes lie on the player under a name that is wanted no more. */
  private findMoves(open: readonly Wanted[]): ReadonlyMap<Wanted, Ours> {
    const openKeys = new Set(open.map(({ path }) => this.key(path)));
    const loose = new Map<string, Ours>();
    for (const [key, ours] of this.ours) {
      const { item, signature, path } = ours.placed;
      // A path that stays wanted by the same content stays where it is.
      if (item === null || (this.wantedKeys.has(key) && !openKeys.has(key))) continue;
      loose.set(`${item}\n${extensionOf(path)}\n${signature}`, ours);
    }
    const moves = new Map<Wanted, Ours>();
    for (const want of open) {
      const ours = loose.get(`${want.item}\n${extensionOf(want.path)}\n${want.signature}`);
      if (ours && ours.file.path !== want.path) moves.set(want, ours);
    }
    return moves;
  }

  /**
   * What a step at `path` will find there. A file whose name differs in letter case alone is removed before,
   * since some disks would keep its spelling and others would keep both.
   */
  private clearFor(path: string, leaving: ReadonlySet<string>, clearing: Remove[]): FileFacts | null {
    const key = this.key(path);
    const file = this.files.get(key);
    if (!file || leaving.has(key)) return null;
    const was = factsOf(file, this.ours.get(key)?.placed ?? null);
    if (file.path === path) return was;
    clearing.push({ type: 'remove', path: file.path, was });
    return null;
  }

  /** A rename that the curator asked for, where its file is still there and nothing stands at its new path. */
  private acceptRename({ from, to }: PlayerChoices['renames'][number]): void {
    const key = this.key(from);
    const file = this.files.get(key);
    if (file?.path !== from || this.ours.has(key) || this.mayReplace.has(key) || !this.isFreeFor(from, to))
      return;
    if ([...this.renamed.values()].some((other) => other.from === from) || this.renamed.has(this.key(to)))
      return;
    for (let at = folderOf(to); at !== ''; at = folderOf(at))
      if (this.files.has(this.key(at)) || this.renamed.has(this.key(at))) return;
    const was = factsOf(file, null);
    const move: Move = { type: 'move', from, path: to, item: null, was, replaces: null, signature: '' };
    this.renamed.set(this.key(to), move);
    this.renamedFrom.add(from);
  }

  private isFreeFor(from: string, to: string): boolean {
    return this.key(from) === this.key(to) || !this.files.has(this.key(to));
  }

  /**
   * Moves that wait for each other's names (A to B, B to A), or whose names differ in letter case alone, go by way
   * of a folder that is the run's own.
   */
  private orderMoves(
    moves: readonly Move[],
    isInTheWay: (from: string) => boolean,
  ): { lifts: Move[]; plain: Move[]; lowers: Move[] } {
    const sources = new Set(moves.map(({ from }) => this.key(from)));
    const waits = (move: Move) => sources.has(this.key(move.path)) || isInTheWay(move.from);
    const between = (move: Move, index: number) =>
      `${HOLD_FOLDER}/${this.token}/${index}/${nameOf(move.path)}`;
    const waiting = moves.filter(waits);
    return {
      lifts: waiting.map((move, index) => ({ ...move, path: between(move, index), replaces: null })),
      plain: moves.filter((move) => !waits(move)),
      lowers: waiting.map((move, index) => ({ ...move, from: between(move, index) })),
    };
  }

  /** A file must leave early where a wanted folder takes its name, or is spelled otherwise than the one it lies in. */
  private isInTheWay(path: string, folders: ReadonlyMap<string, string>): boolean {
    if (folders.has(this.key(path))) return true;
    for (let at = folderOf(path); at !== ''; at = folderOf(at)) {
      const key = this.key(at);
      if (this.wantedKeys.has(key)) return true;
      const spelled = folders.get(key);
      if (spelled !== undefined && spelled !== at) return true;
    }
    return false;
  }

  private wantedFolders(wanted: readonly Wanted[]): ReadonlyMap<string, string> {
    const folders = new Map<string, string>();
    for (const { path } of wanted)
      for (let at = folderOf(path); at !== ''; at = folderOf(at)) {
        const key = this.key(at);
        if (folders.has(key)) break;
        folders.set(key, at);
      }
    return folders;
  }

  private newFolders(steps: readonly Step[]): Step[] {
    const known = new Set<string>();
    for (const { path } of this.there) this.addFolders(path, known, []);
    const made: string[] = [];
    for (const { path } of steps) this.addFolders(path, known, made);
    return made.map((path) => ({ type: 'makeFolder', path }));
  }

  /** Adds every folder above `path` that is not known yet, outermost first. */
  private addFolders(path: string, known: Set<string>, made: string[]): void {
    const folder = folderOf(path);
    if (folder === '' || known.has(this.key(folder))) return;
    this.addFolders(folder, known, made);
    known.add(this.key(folder));
    made.push(folder);
  }
}

/** What the player lists of a file, and what we remember of it where the player says nothing. */
const factsOf = ({ size, digest }: ThereFile, placed: PlacedFile | null): FileFacts => ({
  size,
  digest: digest ?? placed?.digest ?? null,
});
