import { toLineFile, type Candidate, type Gathering, type LineFile, type LookUp } from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';
import { ServiceError } from '$lib/io/bounded-fetch';
import type { ReferenceClient } from '$lib/io/reference-client';
import type { IdentifyClient } from '$lib/workers/identify-client';
import type { Library } from '../library.svelte';
import type { Listening } from '../listening.svelte';
import type { Sets } from './sets.svelte';

/** The state of a look-up. */
export interface LookedUp {
  readonly phase: 'asking' | 'found' | 'nobody' | 'failed';
  readonly candidates: readonly Candidate[];
  /** Why it failed; null if it did not. */
  readonly trouble: { readonly code: ServiceError['code'] | 'other'; readonly detail: string } | null;
  /** Releases of the answer that could not be used. */
  readonly dropped: number;
}

/** Which ways a look-up goes. */
export type LookUpWay = 'all' | 'words' | 'lengths' | 'number' | 'sound';

/** Reference data for sets, and fingerprints of their files. */
export class LookUps {
  private looked = $state.raw<ReadonlyMap<string, LookedUp>>(new Map());
  private heard = $state.raw<ReadonlyMap<ItemId, LineFile['heard']>>(new Map());
  private asking: AbortController | null = null;

  /** Of the set on show. */
  readonly lookUp: LookedUp | null = $derived.by(() => this.looked.get(this.sets.openKey ?? '') ?? null);
  /** Its files, with their fingerprints. */
  readonly files: readonly LineFile[] = $derived.by(() =>
    this.sets.items.map((item) => toLineFile(item, this.heard.get(item.id) ?? null)),
  );

  /** @param answered is called when an answer is there, or when none came */
  constructor(
    private readonly library: Library,
    private readonly sets: Sets,
    private readonly listening: Listening,
    private readonly reference: ReferenceClient,
    private readonly client: IdentifyClient,
    private readonly answered: () => Promise<void>,
  ) {}

  /** Whether a set was looked up. */
  has(key: string): boolean {
    return this.looked.has(key);
  }

  rename(from: string, to: string): void {
    const looked = this.looked.get(from);
    if (looked) this.setLooked(to, looked);
  }

  end(): void {
    this.asking?.abort();
  }

  /**
   * Asks the reference what the open gathering could be.
   * @param text words or a number, for the ways that take them
   */
  async ask(way: LookUpWay, text = this.sets.gathering?.words ?? ''): Promise<void> {
    const { gathering } = this.sets;
    if (!gathering) return;
    this.asking?.abort();
    const asking = (this.asking = new AbortController());
    const before = this.looked.get(gathering.key)?.candidates ?? [];
    this.setLooked(gathering.key, { phase: 'asking', candidates: before, trouble: null, dropped: 0 });
    try {
      const query = await this.query(gathering, way, text, asking.signal);
      const answer = await this.reference.lookUp(query, asking.signal);
      if (query.fingerprints) this.noteHeard(gathering, answer.heard);
      const words = way === 'words' ? text : gathering.words;
      const candidates = await this.client.rank(this.filesOf(gathering), words, answer.releases);
      if (asking.signal.aborted) return;
      const phase = candidates.length > 0 ? 'found' : 'nobody';
      this.setLooked(gathering.key, { phase, candidates, trouble: null, dropped: answer.dropped });
    } catch (error) {
      if (asking.signal.aborted) return;
      const trouble =
        error instanceof ServiceError
          ? { code: error.code, detail: error.message }
          : { code: 'other' as const, detail: error instanceof Error ? error.message : String(error) };
      this.setLooked(gathering.key, { phase: 'failed', candidates: before, trouble, dropped: 0 });
    }
    await this.answered();
  }

  private filesOf(gathering: Gathering): LineFile[] {
    return this.library
      .findAll(gathering.items)
      .map((item) => toLineFile(item, this.heard.get(item.id) ?? null));
  }

  private async query(
    gathering: Gathering,
    way: LookUpWay,
    text: string,
    signal: AbortSignal,
  ): Promise<LookUp> {
    const { type } = gathering;
    const files = this.filesOf(gathering);
    const lengths = files.flatMap(({ id, lengthSeconds }) =>
      lengthSeconds === null || id === gathering.whole ? [] : [lengthSeconds],
    );
    switch (way) {
      case 'words':
        return { type, words: text };
      case 'number':
        return { type, number: text.trim() };
      case 'lengths':
        return { type, lengths };
      case 'sound':
        return { type, fingerprints: await this.fingerprints(gathering, signal) };
      case 'all':
        return { type, lengths, ...(text === '' ? {} : { words: text }) };
    }
  }

  /** Fingerprints of a gathering's files, in order; an empty text if there is none. */
  private async fingerprints(gathering: Gathering, signal: AbortSignal): Promise<string[]> {
    const items = this.library.findAll(gathering.items);
    return this.listening.fingerprints(items, signal);
  }

  private noteHeard(gathering: Gathering, heard: readonly Readonly<Record<string, number>>[]): void {
    const next = new Map(this.heard);
    gathering.items.forEach((id, index) => next.set(id, heard[index] ?? null));
    this.heard = next;
  }

  private setLooked(key: string, looked: LookedUp): void {
    this.looked = new Map(this.looked).set(key, looked);
  }
}
