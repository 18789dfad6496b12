import { folderOf, isBelow } from '../paths';
import type { Guess, Kind } from './kind';

/** A kind that belongs to a folder of a source, and to the folders below it. */
export interface FolderKind {
  readonly source: string;
  readonly folder: string;
  readonly kind: Kind;
  /** `rule`: the curator set it for the folder. `correction`: it was learnt from a corrected guess. */
  readonly by: 'rule' | 'correction';
}

/** The kind that the nearest folder above a path carries, by rule or by correction; null when none does. */
export function kindOfFolder(
  known: readonly FolderKind[],
  by: FolderKind['by'],
  source: string,
  path: string,
): Kind | null {
  let nearest: FolderKind | null = null;
  for (const one of known) {
    if (one.by !== by || one.source !== source) continue;
    const holds = isBelow(path, one.folder);
    if (holds && (!nearest || one.folder.length > nearest.folder.length)) nearest = one;
  }
  return nearest?.kind ?? null;
}

/** Share of a folder's firm files that must agree before they vouch for the others. */
const AGREE = 0.7;
/** Firm files that it takes. */
const LEAST_FIRM = 3;

/** Counts certain guesses by folder, as evidence for other files in it. */
export class Neighbourhood {
  private readonly folders = new Map<string, Map<Kind, number>>();

  add(path: string, guess: Guess, settled: Kind | null): void {
    const kind = settled ?? (guess.certainty === 'open' ? null : guess.kind);
    if (kind === null) return;
    const folder = folderOf(path);
    const counts = this.folders.get(folder) ?? new Map<Kind, number>();
    // A mere guess vouches, but for less.
    const weight = settled !== null || guess.certainty === 'sure' || guess.certainty === 'likely' ? 1 : 0.5;
    counts.set(kind, (counts.get(kind) ?? 0) + weight);
    this.folders.set(folder, counts);
  }

  /** The kind of most files in this path's folder, or null if too few agree. */
  kindAround(path: string): Kind | null {
    const counts = this.folders.get(folderOf(path));
    if (!counts) return null;
    const total = [...counts.values()].reduce((sum, count) => sum + count, 0);
    const [best, count] = [...counts].sort((a, b) => b[1] - a[1])[0] as [Kind, number];
    return count >= LEAST_FIRM && count / total >= AGREE ? best : null;
  }
}
