import { version } from '$app/environment';
import type { TargetId } from '$lib/core/library';
import type { PlanDigest } from '$lib/core/plan';
import type { KeptRehearsal } from '$lib/io/storage';
import type { Library } from '../library.svelte';

/** Milliseconds after a rehearsal until it is kept: one that the next edit makes another one is not worth a write. */
const REST = 20_000;

/** What a rehearsal is made from beside the library. */
export interface MadeFrom {
  readonly target: TargetId;
  /** Since when the place is as it lies there, in milliseconds since 1970; null where it was never listed. */
  readonly since: number | null;
  /** The last run there, and what came of it. */
  readonly run: string | null;
  /** The day, where what the player is to have goes by it. */
  readonly day: string | null;
}

/**
 * Keeps the last rehearsal of a place, so that it is there at once when the library is opened again. It holds as long as
 * nothing that it was made from is another one: the library, what lies at the place, runs, and the application itself.
 */
export class EarlierRehearsal {
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor(private readonly library: Library) {}

  /** The one of this very library and place; null where there is none. */
  async find(from: MadeFrom, needsWhole: boolean): Promise<PlanDigest | null> {
    const stamp = this.library.restingAs;
    const kept = stamp === null ? null : await this.library.storage.rehearsals.find(from.target);
    return kept?.of === nameOf(from, stamp) && !(needsWhole && kept.isBrief) ? kept.digest : null;
  }

  /** Keeps a rehearsal once the library has come to rest, unless that is another library by then. */
  keepSoon(from: MadeFrom, made: Omit<KeptRehearsal, 'of'>, stamp: string): void {
    this.end();
    this.timer = setTimeout(() => void this.keep(from, made, stamp), REST);
  }

  async keep(from: MadeFrom, made: Omit<KeptRehearsal, 'of'>, stamp: string): Promise<void> {
    const { library } = this;
    if (!library.mayWrite || library.restingAs !== stamp) return;
    // What the browser has no room for is made anew next time.
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
