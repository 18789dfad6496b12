import { ReferenceClient } from '$lib/io/reference-client';
import { IdentifyClient } from '$lib/workers/identify-client';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';
import type { Listening } from '../listening.svelte';
import type { Work } from '../work.svelte';
import { LookUps } from './look-ups.svelte';
import { Pairing } from './pairing.svelte';
import { Sets } from './sets.svelte';

/** Sets of files, reference data and the current line-up, which follow each other's changes. */
export class IdentifyDesk {
  readonly sets: Sets;
  readonly lookUps: LookUps;
  readonly pairing: Pairing;

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
      gathered: () => this.pairing.pair(),
    });
    this.lookUps = new LookUps(library, this.sets, listening, reference, client, () => this.pairing.pair());
    this.pairing = new Pairing(library, work, this.sets, this.lookUps, reference, client);
  }

  /** Ends the worker, with the library. */
  end(): void {
    this.sets.end();
    this.lookUps.end();
    this.client.end();
  }

  private opened(): void {
    this.pairing.offer = null;
    const { gathering } = this.sets;
    if (gathering?.state === 'waits' && !this.lookUps.has(gathering.key)) void this.lookUps.ask('all');
    else void this.pairing.pair();
  }
}
