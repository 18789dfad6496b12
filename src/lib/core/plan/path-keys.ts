import { ASCII, pathKey } from '../naming';
import type { Rulebook } from '../rulebooks';

/**
 * The most keys that are cached. The cache is cleared beyond that, because it also holds keys of paths that are gone.
 */
const MOST_KEYS = 1_000_000;

/**
 * Keys under which a player treats paths as equal. Keys of paths with letters beyond ASCII are expensive, so they are
 * cached.
 */
export class PathKeys {
  private keys = new Map<string, string>();

  constructor(private readonly rulebook: Rulebook) {}

  of(path: string): string {
    if (ASCII.test(path)) return pathKey(path, this.rulebook.disk);
    let key = this.keys.get(path);
    if (key !== undefined) return key;
    if (this.keys.size > MOST_KEYS) this.keys = new Map();
    this.keys.set(path, (key = pathKey(path, this.rulebook.disk)));
    return key;
  }
}

const collator = new Intl.Collator('en', { numeric: true });

/** Orders paths as a player that sorts by name plays them: digits by their numeric value. */
export const comparePaths = (a: string, b: string): number =>
  collator.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0);
