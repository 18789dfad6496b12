import { version } from '$app/environment';
import type { TargetId } from '$lib/core/library';
import type { PlanDigest } from '$lib/core/plan';
import type { KeptRehearsal } from '$lib/io/storage';
import type { Library } from '../library.svelte';

/** Milliseconds after a rehearsal until it is stored: one that the next edit replaces is not worth writing. */
const REST = 20_000;

/** What a rehearsal depends on apart from the library. */
export interface MadeFrom {
  readonly target: TargetId;
  /** Since when the place is unchanged, in milliseconds since 1970; null if it was never listed. */
  readonly since: number | null;
  /** The last run there, and what came of it. */
  readonly run: string | null;
  /** The date, if the player's selection depends on it. */
  readonly day: string | null;
}

/**
 * Stores the last rehearsal of a place, so that it can be shown at once when the library is opened again. It applies as
 * long as nothing it depends on has changed: the library, the place, runs, and the application itself.
 */
export class EarlierRehearsal {
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly library: Library) {}

  /** The stored rehearsal for this state of library and place; null if there is none. */
  async find(from: MadeFrom, needsWhole: boolean): Promise<PlanDigest | null> {
    const stamp = this.library.restingAs;
    const kept = stamp === null ? null : await this.library.storage.rehearsals.find(from.target);
    return kept?.of === nameOf(from, stamp) && !(needsWhole && kept.isBrief) ? kept.digest : null;
  }

  /** Stores a rehearsal once the library is at rest, unless it changed by then. */
  keepSoon(from: MadeFrom, made: Omit<KeptRehearsal, 'of'>, stamp: string): void {
    this.end();
    this.timer = setTimeout(() => void this.keep(from, made, stamp), REST);
  }

  async keep(from: MadeFrom, made: Omit<KeptRehearsal, 'of'>, stamp: string): Promise<void> {
    const { library } = this;
    if (!library.mayWrite || library.restingAs !== stamp) return;
    // If the browser has no room for it, it is made again next time.
    await library.storage.rehearsals.keep(from.target, { of: nameOf(from, stamp), ...made }).catch(() => {});
  }

  /** Lets go of what waits to be kept. */
  end(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }
}

const nameOf = ({ since, run, day }: MadeFrom, stamp: string | null): string =>
  JSON.stringify([version, stamp, since, run, day]);
