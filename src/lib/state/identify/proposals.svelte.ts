import type { Gathering, Proposal } from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';
import type { ReferenceClient } from '$lib/io/reference-client';
import type { Library } from '../library.svelte';
import type { Work } from '../work.svelte';
import { Accepting, type Accepted, type WhatIsWritten } from './accepting';
import type { LookUps, LookedUp } from './look-ups.svelte';
import type { Sets } from './sets.svelte';

/** Milliseconds between two questions that nobody waits for. */
const PAUSE = 100;
/** Files of a set up to which all of them are listened to without being asked. */
const MOST_HEARD = 100;
/** Files of a set up to which it is asked about by itself: matching takes cubic time, and more are no one release. */
const MOST_ASKED = 300;

/** A set that waits, with the match that is sure for it. */
export interface SureSet {
  readonly gathering: Gathering;
  readonly proposal: Proposal;
}

/** Asks the reference about all sets that wait, one after the other, while the board is in view. */
export class Proposals {
  /** By key of the set, with the set that it was made for: another set of that key is asked for again. */
  private made = $state.raw<
    ReadonlyMap<string, { readonly for: Gathering; readonly proposal: Proposal | null }>
  >(new Map());
  /** Sets that are still to be asked for; 0 if nothing is being asked. */
  remaining = $state(0);
  /** Why asking stopped; null if it did not. */
  trouble = $state.raw<LookedUp['trouble']>(null);
  private inView: AbortController | null = null;
  private isAsking = false;

  readonly sure: readonly SureSet[] = $derived.by(() =>
    this.sets.waiting.flatMap((gathering) => {
      const proposal = this.of(gathering);
      return proposal && proposal.doubt === null ? [{ gathering, proposal }] : [];
    }),
  );

  constructor(
    private readonly library: Library,
    private readonly work: Work,
    private readonly sets: Sets,
    private readonly lookUps: LookUps,
    private readonly reference: ReferenceClient,
    private readonly written: () => WhatIsWritten,
  ) {}

  /** What was found for a set; null if nothing was, or if it was not asked for yet. */
  of(gathering: Gathering): Proposal | null {
    const made = this.made.get(gathering.key);
    return made?.for === gathering ? made.proposal : null;
  }

  /** Asks while the board is in view. @returns ends it */
  begin(): () => void {
    this.inView = new AbortController();
    this.trouble = null;
    void this.askAll();
    return () => this.end();
  }

  end(): void {
    this.inView?.abort();
    this.inView = null;
  }

  /** Asks again after the reference could not be reached. */
  tryAgain(): void {
    this.trouble = null;
    void this.askAll();
  }

  /** Sets were gathered again, or the set on show was closed: what was not asked for yet is. */
  follow(): void {
    void this.askAll();
  }

  private async askAll(): Promise<void> {
    const signal = this.inView?.signal;
    if (!signal || this.isAsking || this.trouble) return;
    this.isAsking = true;
    try {
      // Sets may change meanwhile: what they are then is asked for in the next round.
      for (let left = this.unasked(); left.length > 0 && !signal.aborted; left = this.unasked())
        for (const [index, gathering] of left.entries()) {
          this.remaining = left.length - index;
          if (this.isOpen(gathering)) continue;
          await this.askFor(gathering, signal);
          if (signal.aborted || this.trouble) return;
          await new Promise((resolve) => setTimeout(resolve, PAUSE));
        }
    } catch (error) {
      // A worker that was ended with the library has nothing to tell.
      if (!signal.aborted)
        this.trouble = { code: 'other', detail: error instanceof Error ? error.message : String(error) };
    } finally {
      this.remaining = 0;
      this.isAsking = false;
      // The board was left and opened again meanwhile.
      if (this.inView && this.inView.signal !== signal) void this.askAll();
    }
  }

  private unasked(): readonly Gathering[] {
    return this.library.mayWrite
      ? this.sets.waiting.filter(
          (gathering) =>
            gathering.items.length <= MOST_ASKED && !this.isOpen(gathering) && !this.isAsked(gathering),
        )
      : [];
  }

  private isAsked(gathering: Gathering): boolean {
    return this.made.get(gathering.key)?.for === gathering;
  }

  /** The set on show belongs to the curator, and nothing there changes by itself. */
  private isOpen({ key }: Gathering): boolean {
    return key === this.sets.openKey;
  }

  private async askFor(gathering: Gathering, signal: AbortSignal): Promise<void> {
    const before = this.made.get(gathering.key);
    const known = this.lookUps.of(gathering.key);
    // What the curator asked for is not asked again, unless the set has other files now.
    const isKnown = !before && known?.phase === 'found';
    const looked = isKnown ? known : await this.lookUps.askFor(gathering, 'all', signal);
    let proposal = await this.propose(gathering, looked);
    if (this.isWorthListening(gathering, proposal) && !this.trouble && !signal.aborted)
      proposal = (await this.byEar(gathering, looked, signal)) ?? proposal;
    if (signal.aborted || this.trouble) return;
    this.made = new Map(this.made).set(gathering.key, { for: gathering, proposal });
  }

  private isWorthListening({ type, items }: Gathering, proposal: Proposal | null): boolean {
    const isSure = proposal !== null && proposal.doubt === null;
    return !isSure && (type === 'album' || type === 'podcast') && items.length <= MOST_HEARD;
  }

  /** Asks by sound, and keeps what words and lengths found. */
  private async byEar(
    gathering: Gathering,
    before: LookedUp | null,
    signal: AbortSignal,
  ): Promise<Proposal | null> {
    const heard = await this.lookUps.askFor(gathering, 'sound', signal, gathering.words, true);
    if (!heard || heard.releases.length === 0) {
      // Nothing is known by sound: what was found before stays on show.
      if (before && heard?.phase !== 'failed') this.lookUps.restore(gathering, before);
      return null;
    }
    return this.propose(gathering, heard);
  }

  private async propose(gathering: Gathering, looked: LookedUp | null): Promise<Proposal | null> {
    if (looked?.phase === 'failed') this.trouble = looked.trouble;
    return looked && looked.releases.length > 0 ? this.lookUps.propose(gathering, looked.releases) : null;
  }

  /** Accepts these matches as one act. */
  async acceptAll(sure: readonly SureSet[]): Promise<void> {
    let isCancelled = false;
    const job = this.work.start('Describe sets', sure.length, () => (isCancelled = true));
    try {
      const accepting = new Accepting(this.library, this.reference, this.written());
      const accepted = new Map<ItemId, Accepted>();
      for (const [index, { proposal }] of sure.entries()) {
        for (const { candidate, pairs } of proposal.parts)
          for (const [id, one] of await accepting.accept([candidate], pairs)) accepted.set(id, one);
        job.progress(index + 1);
        if (isCancelled) return job.finish('Cancelled: nothing was changed');
      }
      const releases = sure.reduce((sum, { proposal }) => sum + proposal.parts.length, 0);
      const label =
        sure.length === 1 ? `Match of ${sure[0]?.gathering.label}` : `Matches of ${sure.length} sets`;
      accepting.write(label, accepted);
      job.finish(
        `${accepted.size} files of ${releases} ${releases === 1 ? 'release' : 'releases'} described`,
      );
      await this.sets.gatherNow();
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error);
      job.finish(`The matches could not be applied: ${why}. Nothing was changed.`, true);
    }
  }
}
