import type {
  Candidate,
  Decisions,
  LineFile,
  Offer,
  Proposal,
  ReferenceEntry,
  ReferenceRelease,
} from '$lib/core/identify';
import type { IdentifyRequest } from './identify-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, type Port } from './worker-client';

/** Milliseconds for an answer, on a slow machine with a large library. */
const LIMIT = 120_000;

/** The identifying worker of this page; it starts with the first question. */
export class IdentifyClient {
  private readonly client: WorkerClient<IdentifyRequest>;

  constructor(makePort: () => Port = () => newWorker('identify')) {
    this.client = new WorkerClient(makePort);
  }

  end(): void {
    this.client.end();
  }

  rank(
    files: readonly LineFile[],
    words: string,
    releases: readonly ReferenceRelease[],
  ): Promise<readonly Candidate[]> {
    return this.client.ask({ type: 'rank', files, words, releases }, { limit: LIMIT });
  }

  propose(
    files: readonly LineFile[],
    words: string,
    releases: readonly ReferenceRelease[],
    whole: string | null,
  ): Promise<Proposal | null> {
    return this.client.ask({ type: 'propose', files, words, releases, whole }, { limit: LIMIT });
  }

  lineUp(
    files: readonly LineFile[],
    entries: readonly ReferenceEntry[],
    decisions: Decisions,
  ): Promise<Offer> {
    return this.client.ask({ type: 'lineUp', files, entries, decisions }, { limit: LIMIT });
  }
}
