import type { ItemId } from '../items';
import { extensionOf, folderOf, nameOf } from '../paths';
import { placesAt, roleOf, sidecarFor } from '../rulebooks';
import type { PlanMemory } from './memory';
import type { PlanItem } from './plan-item';
import type { Showing } from './showing';
import type { Report } from './report';
import type { Ours, There } from './there';
import { HOLD_FOLDER, factsOf, type FileFacts, type Step } from './step';

/** Something that should lie on the player after the run. */
export interface Wanted {
  readonly path: string;
  /** The path by the player's own idea of equal ones. */
  readonly key: string;
  readonly item: ItemId;
  readonly signature: string;
  /** The step that would put it there. */
  readonly step: (replaces: FileFacts | null) => Step;
}

type Move = Extract<Step, { type: 'move' }>;
type Remove = Extract<Step, { type: 'remove' }>;

/** What is wanted of a player, against what lies there. Paths are compared by the player's own idea of equal ones. */
export class World {
  private readonly wantedKeys = new Set<string>();
  /** Files of ours that stay as they are, since their items are held back by what blocks them. */
  private readonly kept = new Set<string>();

  constructor(
    private readonly there: There,
    private readonly memory: PlanMemory,
    private readonly token: string,
  ) {}

  /** Whether a place is free, ours, or given free by the curator; what stands in the way is reported. */
  mayTake(path: string, item: PlanItem, report: Report, severity: 'blocks' | 'warns'): boolean {
    for (let at = path; at !== ''; at = folderOf(at)) {
      const key = this.key(at);
      const coming = this.there.renamed.get(key);
      if (coming) {
        report.occupied(item, coming.path, severity);
        return false;
      }
      const file = this.there.files.get(key);
      if (!file || this.there.ours.has(key) || this.there.mayReplace.has(key)) continue;
      if (this.there.changed.has(key)) report.changedThere(item, file.path, severity);
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
    for (const { key } of wanted) this.wantedKeys.add(key);
    for (const [key, { placed }] of this.there.ours)
      if (placed.item !== null && held.has(placed.item) && !this.wantedKeys.has(key)) this.kept.add(key);
    const folders = this.wantedFolders(wanted);
    const open = wanted.filter((want) => !this.isCurrent(want));
    const moved = this.findMoves(open);
    const leaving = new Set([...moved.values()].map(({ file }) => this.key(file.path)));
    const clearing: Remove[] = [];
    const replaces = (path: string) => this.clearFor(path, leaving, clearing);
    const moves: Move[] = [
      ...this.there.renamed.values(),
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
    const removes = [...this.there.ours]
      .filter(([key]) => !this.wantedKeys.has(key) && !leaving.has(key) && !this.kept.has(key))
      .map(([, { file, placed }]): Remove => ({
        type: 'remove',
        path: file.path,
        was: factsOf(file, placed),
      }));
    for (const key of this.there.changed)
      if (!this.wantedKeys.has(key)) report.changedUnwanted(this.there.files.get(key)?.path ?? key);
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
    return this.there.list.length - this.there.ours.size;
  }

  /** Files there that stay without being planned for, under their coming names: what others put there, and what is kept. */
  staying(): readonly string[] {
    const renamed = new Map([...this.there.renamed.values()].map(({ from, path }) => [from, path]));
    return this.there.list
      .filter(({ path }) => {
        const key = this.key(path);
        return !this.wantedKeys.has(key) && (!this.there.ours.has(key) || this.kept.has(key));
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
      if (roleOf(this.memory.rulebook, path) === 'sidecar') sidecars.set(folderOf(path), path);
    for (const { path } of missed) {
      const kind = placesAt(this.memory.rulebook, path)[0]?.kinds[0];
      const rules = kind && sidecarFor(this.memory.rulebook, kind);
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
        sidecar ? wanted.filter(({ from, to }) => from !== to && this.there.isFreeFor(from, to)) : [],
      );
    }
  }

  private key(path: string): string {
    return this.memory.key(path);
  }

  /** It lies there as our run left it, under its wanted name or under what the player made of that name. */
  private isCurrent({ path, key, signature }: Wanted): boolean {
    const ours = this.there.ours.get(key);
    return ours?.placed.signature === signature && (ours.file.path === path || ours.placed.path === path);
  }

  /** Wanted files whose very bytes lie on the player under a name that is wanted no more. */
  private findMoves(open: readonly Wanted[]): ReadonlyMap<Wanted, Ours> {
    if (open.length === 0) return new Map();
    const openKeys = new Set(open.map(({ key }) => key));
    const loose = new Map<string, Ours>();
    for (const [key, ours] of this.there.ours) {
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
    const file = this.there.files.get(key);
    if (!file || leaving.has(key)) return null;
    const was = factsOf(file, this.there.ours.get(key)?.placed ?? null);
    if (file.path === path) return was;
    clearing.push({ type: 'remove', path: file.path, was });
    return null;
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
    const known = new Set(this.there.folders);
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
