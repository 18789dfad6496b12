/** One thing that a device shows: a shelf of others, or at the end of its branch a file. */
export interface Shown {
  readonly kind: string;
  /** What it tells of it. */
  readonly facts: Readonly<Record<string, string | number | null>>;
  /** The file that it stands for; null for a shelf. */
  readonly path: string | null;
  readonly nodes: Shown[];
}

/** What a device shows, from a scan of its own disk, and what it found and does not show. */
export interface DeviceScan {
  readonly nodes: Shown[];
  readonly unplaced: { readonly path: string; readonly reason: string }[];
  readonly lists: readonly ShownPlaylist[];
}

/** A playlist with the files that a device finds by it, in their order. */
export interface ShownPlaylist {
  readonly path: string;
  readonly name: string;
  readonly entries: readonly string[];
}

/** A file with the shelves that it stands on, outermost first; or why it stands on none. */
export type Placed =
  | {
      readonly shelves: readonly Pick<Shown, 'kind' | 'facts'>[];
      readonly leaf: Pick<Shown, 'kind' | 'facts'>;
    }
  | { readonly reason: string };

/** Puts files on their shelves, in the order in which they come. */
export class Shelving {
  readonly scan: Omit<DeviceScan, 'lists'> = { nodes: [], unplaced: [] };
  private readonly shelves = new Map<string, Shown>();

  put(path: string, placed: Placed): void {
    if ('reason' in placed) {
      this.scan.unplaced.push({ path, reason: placed.reason });
      return;
    }
    let { nodes } = this.scan;
    let key = '';
    for (const { kind, facts } of placed.shelves) {
      const { picture: _, ...told } = facts;
      key += `${JSON.stringify([kind, told])}\n`;
      let shelf = this.shelves.get(key);
      if (!shelf) {
        shelf = { kind, facts, path: null, nodes: [] };
        this.shelves.set(key, shelf);
        nodes.push(shelf);
      }
      nodes = shelf.nodes;
    }
    nodes.push({ ...placed.leaf, path, nodes: [] });
  }
}
