import { ASCII, pathKey } from '../naming';
import type { Rulebook } from '../rulebooks';

/** Keys that are remembered; they are begun anew beyond, since those of paths that are gone stay among them. */
const MOST_KEYS = 1_000_000;

/** Paths by a player's own idea of equal ones. Those with more than ASCII cost more, and are worked out once. */
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

/** Paths in the order in which a player that goes by names plays them: numbers by their values. */
export const comparePaths = (a: string, b: string): number =>
  collator.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0);
