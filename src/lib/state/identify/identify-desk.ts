import { ReferenceClient } from '$lib/io/reference-client';
import { IdentifyClient } from '$lib/workers/identify-client';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';
import type { Listening } from '../listening.svelte';
import type { Work } from '../work.svelte';
import { LookUps } from './look-ups.svelte';
import { Pairing } from './pairing.svelte';
import { Proposals } from './proposals.svelte';
import { Sets } from './sets.svelte';

/** Sets of files, reference data and the current line-up, which follow each other's changes. */
export class IdentifyDesk {
  readonly sets: Sets;
  readonly lookUps: LookUps;
  readonly pairing: Pairing;
  readonly proposals: Proposals;

  constructor(
    library: Library,
    work: Work,
    listening: Listening,
    mirror: LibraryMirror,
    readonly reference = new ReferenceClient(),
    private readonly client = new IdentifyClient(),
  ) {
    this.sets = new Sets(library, work, mirror, {
      opened: () => this.opened(),
      renamed: (from, to) => {
        this.lookUps.rename(from, to);
        this.pairing.rename(from, to);
      },
      gathered: async () => {
        this.proposals.follow();
        await this.pairing.pair();
      },
    });
    this.lookUps = new LookUps(library, this.sets, listening, reference, client, () => this.pairing.pair());
    this.pairing = new Pairing(library, work, this.sets, this.lookUps, reference, client);
    this.proposals = new Proposals(
      library,
      work,
      this.sets,
      this.lookUps,
      reference,
      () => this.pairing.written,
    );
  }

  /** Accepts the line-up on show, and goes on to the next set that waits; after the last one, to all of them. */
  async accept(): Promise<void> {
    const { waiting, openKey } = this.sets;
    const at = waiting.findIndex(({ key }) => key === openKey);
    const next = waiting.length > 1 ? waiting[(at + 1) % waiting.length] : null;
    if (await this.pairing.take()) this.sets.open(next?.key ?? null);
  }

  /** Ends the worker, with the library. */
  end(): void {
    this.proposals.end();
    this.sets.end();
    this.lookUps.end();
    this.client.end();
  }

  private opened(): void {
    this.pairing.offer = null;
    this.proposals.follow();
    const { gathering } = this.sets;
    if (gathering?.state === 'waits' && !this.lookUps.of(gathering.key)) void this.lookUps.ask('all');
    else void this.pairing.pair();
  }
}
