import type { Rulebook } from '../../rulebooks';
import {
  inShownOrder,
  outermostKey,
  outermostOf,
  rehearseAmong,
  rehearseWhole,
  sidecarOf,
  readOf,
  type ShownNode,
  type Showing,
  type TreeFile,
  type Unplaced,
} from './showing';

/** An outermost node of a showing. */
export interface ShownShelf extends Pick<ShownNode, 'key' | 'kind' | 'facts'> {
  /** Number of files in it. */
  readonly count: number;
}

interface Growing extends Pick<ShownNode, 'key' | 'kind' | 'facts' | 'path'> {
  readonly files: Set<TreeFile>;
}

/** Up to this many new shelves are inserted one by one; more are sorted all at once. */
const FEW = 200;

/**
 * What the player will show, by outermost nodes; the content of a node is computed when it is opened. Updated as files
 * come and go.
 */
export class Shelves {
  /** Files beside media that are not media themselves, by path. */
  private readonly beside = new Map<string, TreeFile>();
  /** Media files by the sidecar that is read for them. */
  private readonly readers = new Map<string, Set<TreeFile>>();
  private readonly shelves = new Map<string, Growing>();
  private readonly homes = new Map<TreeFile, Growing>();
  private readonly lost = new Map<TreeFile, Unplaced>();
  /** Files to be placed again because they or the files read for them changed. */
  private readonly open = new Set<TreeFile>();
  private readonly gone = new Set<TreeFile>();
  private hasForeign = false;
  private ordered: Growing[] = [];
  private readonly fresh = new Set<Growing>();

  constructor(private readonly rulebook: Rulebook) {}

  put(file: TreeFile): void {
    if (file.role !== 'media') {
      this.beside.set(file.path, file);
      this.touchBeside(file);
      return;
    }
    const sidecar = sidecarOf(file, this.rulebook);
    if (sidecar !== null) {
      const readers = this.readers.get(sidecar);
      if (readers) readers.add(file);
      else this.readers.set(sidecar, new Set([file]));
    }
    this.gone.delete(file);
    this.open.add(file);
  }

  take(file: TreeFile): void {
    if (file.role !== 'media') {
      if (this.beside.get(file.path) === file) this.beside.delete(file.path);
      this.touchBeside(file);
      return;
    }
    const sidecar = sidecarOf(file, this.rulebook);
    if (sidecar !== null) {
      const readers = this.readers.get(sidecar);
      readers?.delete(file);
      if (readers?.size === 0) this.readers.delete(sidecar);
    }
    this.open.delete(file);
    this.gone.add(file);
  }

  /** Whether foreign files were added or removed, or are read differently. */
  settle(): boolean {
    let foreign = this.hasForeign;
    this.hasForeign = false;
    for (const file of this.gone) {
      foreign ||= file.item === null;
      this.remove(file);
    }
    for (const file of this.open) {
      foreign ||= file.item === null;
      this.remove(file);
      this.stand(file);
    }
    this.gone.clear();
    this.open.clear();
    return foreign;
  }

  get count(): number {
    return this.shelves.size;
  }

  first(most: number): ShownShelf[] {
    return this.inOrder().slice(0, most).map(toShelf);
  }

  /** The content of a shelf. @param orderOf the position of a file in the order of the whole showing */
  nodesOf(key: string, orderOf: (file: TreeFile) => number): readonly ShownNode[] {
    const files = [...(this.shelves.get(key)?.files ?? [])].sort((a, b) => orderOf(a) - orderOf(b));
    return (
      rehearseAmong(files, this.beside, this.rulebook).nodes.find((node) => node.key === key)?.nodes ?? []
    );
  }

  /** Files that the player will not show. */
  unplaced(): Iterable<Unplaced> {
    return this.lost.values();
  }

  get unplacedCount(): number {
    return this.lost.size;
  }

  /** Everything that the player will show. @param media all media files, in order */
  whole(media: readonly TreeFile[]): Showing {
    return rehearseWhole(media, this.beside, this.rulebook);
  }

  /** A file that is not media was added or removed: media files that read it are read again. */
  private touchBeside({ path, role, text }: TreeFile): void {
    for (const file of this.readers.get(path) ?? []) this.open.add(file);
    // Remarks about videos that are not found can depend on a foreign sidecar.
    if (role === 'sidecar' && text === null) this.hasForeign = true;
  }

  private stand(file: TreeFile): void {
    const read = readOf(file, this.rulebook, this.beside);
    if (read === null) return;
    if ('code' in read) {
      this.lost.set(file, read);
      return;
    }
    const own = outermostKey(read, file);
    let shelf = this.shelves.get(own);
    if (!shelf) {
      const { key, kind, facts, path } = outermostOf(read, file);
      shelf = { key, kind, facts, path, files: new Set() };
      this.shelves.set(key, shelf);
      this.fresh.add(shelf);
    }
    shelf.files.add(file);
    this.homes.set(file, shelf);
  }

  private remove(file: TreeFile): void {
    this.lost.delete(file);
    const shelf = this.homes.get(file);
    if (!shelf) return;
    this.homes.delete(file);
    shelf.files.delete(file);
    if (shelf.files.size > 0) return;
    this.shelves.delete(shelf.key);
    if (!this.fresh.delete(shelf)) this.ordered.splice(this.placeIn(shelf), 1);
  }

  private inOrder(): readonly Growing[] {
    if (this.fresh.size > FEW) this.ordered = [...this.ordered, ...this.fresh].sort(byOrder);
    else for (const shelf of this.fresh) this.ordered.splice(this.placeIn(shelf), 0, shelf);
    this.fresh.clear();
    return this.ordered;
  }

  /** The position of a shelf among the sorted ones, or the position where it belongs. */
  private placeIn(shelf: Growing): number {
    let [low, high] = [0, this.ordered.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (byOrder(this.ordered[middle] as Growing, shelf) < 0) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}

const byOrder = (a: Growing, b: Growing): number =>
  inShownOrder(a, b) || (a.key < b.key ? -1 : a.key > b.key ? 1 : 0);

const toShelf = ({ key, kind, facts, files }: Growing): ShownShelf => ({
  key,
  kind,
  facts,
  count: files.size,
});
