import { folderOf, nameOf } from '../../paths';
import { comparePaths, type PathKeys } from '../path-keys';
import { HOLD_FOLDER, factsOf, type FileFacts, type PlacedFile, type ThereFile } from '../there/files';
import type { Step } from '../step';
import type { There } from '../there/there';
import { stepFor, type Fate, type Want } from './want';

type Move = Extract<Step, { type: 'move' }>;
type Remove = Extract<Step, { type: 'remove' }>;

export interface SheetInput {
  readonly there: There;
  /** What happens to our files on the player, by the key of their path. */
  readonly fates: ReadonlyMap<string, Fate>;
  readonly wanted: readonly Want[];
  readonly keys: PathKeys;
  /** Whether the player plays files in the order in which they were written. */
  readonly isWritten: boolean;
  /** A name that is unique to the run: files that exchange names pass through a folder of this name. */
  readonly token: string;
}

/**
 * Orders the steps from the player's current state to the wanted one, so that no step needs a name that is still in
 * use.
 */
export function orderedSteps(decided: SheetInput): readonly Step[] {
  return new Sheet(decided).steps();
}

class Sheet {
  private readonly clearing: Remove[] = [];
  /** Wanted folders, as they will be spelled. */
  private readonly folders = new Map<string, string>();
  private readonly wantedKeys: ReadonlySet<string>;

  constructor(private readonly decided: SheetInput) {
    const { wanted } = decided;
    this.wantedKeys = new Set(wanted.map(({ key }) => key));
    for (const { path } of wanted)
      for (let at = folderOf(path); at !== ''; at = folderOf(at)) {
        const key = this.key(at);
        if (this.folders.has(key)) break;
        this.folders.set(key, at);
      }
  }

  steps(): readonly Step[] {
    const { there, wanted, isWritten } = this.decided;
    const moves: Move[] = [...there.renamed.values()];
    for (const { action, path, owner, signature } of wanted) {
      if (action?.type !== 'move') continue;
      const { file, placed } = action.from;
      const was = factsOf(file, placed);
      moves.push({
        type: 'move',
        from: file.path,
        path,
        owner,
        was,
        replaces: this.replaces(path),
        signature,
      });
    }
    const written = wanted.filter(({ action }) => action?.type === 'write');
    const inTurn = isWritten ? written.toSorted((a, b) => comparePaths(a.path, b.path)) : written;
    const writes = inTurn.map((want) => stepFor(want, this.replaces(want.path)));
    const goes = (key: string) => this.decided.fates.get(key) === 'goes';
    const removes = [
      ...[...there.ours].flatMap(([key, { file, placed }]) => (goes(key) ? [removal(file, placed)] : [])),
      ...[...there.leaving].flatMap(([key, file]) => (goes(key) ? [removal(file, null)] : [])),
    ];
    const inTheWay = ({ path }: Remove) => this.isInTheWay(path);
    const { lifts, plain, lowers } = this.orderMoves(moves);
    return [
      ...this.clearing,
      ...removes.filter(inTheWay),
      ...lifts,
      ...this.newFolders([...plain, ...lowers, ...writes]),
      ...plain,
      ...lowers,
      ...writes,
      ...removes.filter((step) => !inTheWay(step)),
    ];
  }

  private key(path: string): string {
    return this.decided.keys.of(path);
  }

  /**
   * What a step at `path` will find there. A file whose name differs only in case is removed first, because some disks
   * would keep its spelling and others would keep both files.
   */
  private replaces(path: string): FileFacts | null {
    const { there, fates } = this.decided;
    const key = this.key(path);
    const file = there.files.get(key);
    if (!file || fates.get(key) === 'leaves') return null;
    const was = there.factsAt(key, file);
    if (file.path === path) return was;
    this.clearing.push({ type: 'remove', path: file.path, was });
    return null;
  }

  /** Moves that exchange names (A to B, B to A) or only change case go through a folder of the run. */
  private orderMoves(moves: readonly Move[]): { lifts: Move[]; plain: Move[]; lowers: Move[] } {
    const sources = new Set(moves.map(({ from }) => this.key(from)));
    const waits = (move: Move) => sources.has(this.key(move.path)) || this.isInTheWay(move.from);
    const between = (move: Move, index: number) =>
      `${HOLD_FOLDER}/${this.decided.token}/${index}/${nameOf(move.path)}`;
    const waiting = moves.filter(waits);
    return {
      lifts: waiting.map((move, index) => ({ ...move, path: between(move, index), replaces: null })),
      plain: moves.filter((move) => !waits(move)),
      lowers: waiting.map((move, index) => ({ ...move, from: between(move, index) })),
    };
  }

  /** A file must be moved early if a wanted folder takes its name, or if its folder will be spelled differently. */
  private isInTheWay(path: string): boolean {
    if (this.folders.has(this.key(path))) return true;
    for (let at = folderOf(path); at !== ''; at = folderOf(at)) {
      const key = this.key(at);
      if (this.wantedKeys.has(key)) return true;
      const spelled = this.folders.get(key);
      if (spelled !== undefined && spelled !== at) return true;
    }
    return false;
  }

  private newFolders(steps: readonly Step[]): Step[] {
    const known = new Set(this.decided.there.folders);
    const made: string[] = [];
    for (const { path } of steps) this.addFolders(path, known, made);
    return made.map((path) => ({ type: 'makeFolder', path }));
  }

  /** Adds every unknown folder above `path`, outermost first. */
  private addFolders(path: string, known: Set<string>, made: string[]): void {
    const folder = folderOf(path);
    if (folder === '' || known.has(this.key(folder))) return;
    this.addFolders(folder, known, made);
    known.add(this.key(folder));
    made.push(folder);
  }
}

const removal = (file: ThereFile, placed: PlacedFile | null): Remove => ({
  type: 'remove',
  path: file.path,
  was: factsOf(file, placed),
});
