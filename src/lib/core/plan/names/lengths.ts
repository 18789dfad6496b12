import { lengthIn } from '../../naming';
import type { Rulebook } from '../../rulebooks';
import type { Outgoing } from '../names/outgoing';

/** Planned paths by their length in the player's unit. */
export class Lengths {
  private readonly byLength = new Map<number, Set<Outgoing>>();
  count = 0;

  constructor(private readonly unit: Rulebook['disk']['unit']) {}

  put(out: Outgoing): void {
    const length = lengthIn(out.path, this.unit);
    const own = this.byLength.get(length);
    if (own) own.add(out);
    else this.byLength.set(length, new Set([out]));
    this.count++;
  }

  take(out: Outgoing): void {
    const length = lengthIn(out.path, this.unit);
    const own = this.byLength.get(length);
    own?.delete(out);
    if (own?.size === 0) this.byLength.delete(length);
    this.count--;
  }

  /** The number of paths of each length, the shortest length first. */
  all(): (readonly [length: number, count: number])[] {
    return [...this.byLength]
      .map(([length, { size }]) => [length, size] as const)
      .sort((a, b) => a[0] - b[0]);
  }

  /** The longest paths; of those of equal length, the paths of the first items. */
  longest(most: number): Outgoing[] {
    const first: Outgoing[] = [];
    for (const length of [...this.byLength.keys()].sort((a, b) => b - a)) {
      const own = [...(this.byLength.get(length) ?? [])].sort((a, b) => a.order - b.order);
      first.push(...own.slice(0, most - first.length));
      if (first.length === most) break;
    }
    return first;
  }
}
