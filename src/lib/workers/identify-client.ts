import type {
  Candidate,
  Decisions,
  Gathering,
  GatherItem,
  LineFile,
  Offer,
  ReferenceEntry,
  ReferenceRelease,
} from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';
import { Asker } from './asker';
import type { IdentifyRequest } from './identify-protocol';
import type { Port } from './parse-protocol';

/** Items sent in one message, so that handing them over never holds the page up. */
const CHUNK_ITEMS = 200;

/** The identifying worker of this page; it starts with the first question. */
export class IdentifyClient {
  private readonly asker: Asker<IdentifyRequest>;

  constructor(
    makePort: () => Port = () =>
      new Worker(new URL('./identify-worker.ts', import.meta.url), { type: 'module' }),
  ) {
    this.asker = new Asker(makePort);
  }

  /** Tells the worker which items changed since the last call. */
  async update(changed: readonly GatherItem[], removed: readonly ItemId[]): Promise<void> {
    for (let at = 0; at < changed.length || (at === 0 && removed.length > 0); at += CHUNK_ITEMS)
      await this.asker.ask({
        type: 'items',
        changed: changed.slice(at, at + CHUNK_ITEMS),
        removed: at === 0 ? removed : [],
      });
  }

  gather(): Promise<readonly Gathering[]> {
    return this.asker.ask({ type: 'gather' });
  }

  rank(
    files: readonly LineFile[],
    words: string,
    releases: readonly ReferenceRelease[],
  ): Promise<readonly Candidate[]> {
    return this.asker.ask({ type: 'rank', files, words, releases });
  }

  lineUp(
    files: readonly LineFile[],
    entries: readonly ReferenceEntry[],
    decisions: Decisions,
  ): Promise<Offer> {
    return this.asker.ask({ type: 'lineUp', files, entries, decisions });
  }
}
