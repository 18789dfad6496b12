import {
  toLineFile,
  type Candidate,
  type Gathering,
  type LineFile,
  type LookUp,
  type Proposal,
  type ReferenceRelease,
} from '$lib/core/identify';
import type { ItemId } from '$lib/core/items';
import { ServiceError } from '$lib/io/bounded-fetch';
import type { ReferenceClient } from '$lib/io/reference-client';
import type { IdentifyClient } from '$lib/workers/identify-client';
import type { Library } from '../library.svelte';
import type { Listening } from '../listening.svelte';
import { FinishedReleases } from './finished';
import type { Sets } from './sets.svelte';

/** The state of a look-up. */
export interface LookedUp {
  readonly phase: 'asking' | 'found' | 'nobody' | 'failed';
  readonly candidates: readonly Candidate[];
  /** All releases of the answer, also those that score too low to be candidates. */
  readonly releases: readonly ReferenceRelease[];
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
  private readonly finished: FinishedReleases;

  /** Of the set on show. */
  readonly lookUp: LookedUp | null = $derived.by(() => this.looked.get(this.sets.openKey ?? '') ?? null);
  /** Its files, with their fingerprints. */
  readonly files: readonly LineFile[] = $derived.by(() =>
    this.sets.items.map((item) => toLineFile(item, this.heard.get(item.id) ?? null)),
  );

  /** @param answered is called when an answer for the set on show is there, or when none came */
  constructor(
    private readonly library: Library,
    private readonly sets: Sets,
    private readonly listening: Listening,
    private readonly reference: ReferenceClient,
    private readonly client: IdentifyClient,
    private readonly answered: () => Promise<void>,
  ) {
    this.finished = new FinishedReleases(library);
  }

  /** What is known of a set; null if it was not looked up. */
  of(key: string): LookedUp | null {
    return this.looked.get(key) ?? null;
  }

  /** Shows again what was known of a set before. */
  restore(gathering: Gathering, looked: LookedUp): void {
    this.setLooked(gathering.key, looked);
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
  async ask(way: LookUpWay, text?: string): Promise<void> {
    const { gathering } = this.sets;
    if (!gathering) return;
    this.asking?.abort();
    const { signal } = (this.asking = new AbortController());
    await this.askFor(gathering, way, signal, text);
  }

  /** Asks the reference what a gathering could be. After cancelling, what was known of it stays. */
  async askFor(
    gathering: Gathering,
    way: LookUpWay,
    signal: AbortSignal,
    text = gathering.words,
    isQuiet = false,
  ): Promise<LookedUp | null> {
    const before = this.looked.get(gathering.key) ?? null;
    const known = { candidates: before?.candidates ?? [], releases: before?.releases ?? [] };
    this.setLooked(gathering.key, { ...known, phase: 'asking', trouble: null, dropped: 0 });
    const looked = await this.lookUpFor(gathering, way, text, signal, isQuiet).catch(
      async (error: unknown): Promise<LookedUp> => ({
        // Lists of one's own can be compared with all the same, unless it was the comparing that failed.
        ...(await this.rank(gathering, gathering.words, known.releases).catch(() => known)),
        phase: 'failed',
        trouble: troubleOf(error),
        dropped: 0,
      }),
    );
    // A question that was put aside leaves no trace, unless another one was put in its place.
    if (signal.aborted) {
      if (this.looked.get(gathering.key)?.phase === 'asking') this.setLooked(gathering.key, before);
      return null;
    }
    this.setLooked(gathering.key, looked);
    if (gathering.key === this.sets.openKey) await this.answered();
    return looked;
  }

  private async lookUpFor(
    gathering: Gathering,
    way: LookUpWay,
    text: string,
    signal: AbortSignal,
    isQuiet: boolean,
  ): Promise<LookedUp> {
    const query = await this.query(gathering, way, text, signal, isQuiet);
    const answer = await this.reference.lookUp(query, signal);
    if (query.fingerprints) this.noteHeard(gathering, answer.heard);
    const finished = way === 'words' || way === 'number' ? null : this.finished.around(gathering);
    const theirs = answer.releases.filter((release) => !finished?.has(release));
    const words = way === 'words' ? text : gathering.words;
    return { ...(await this.rank(gathering, words, theirs)), trouble: null, dropped: answer.dropped };
  }

  /** Compares the set on show with the curator's own lists as they are now. */
  async compareWithOwn(): Promise<void> {
    const { gathering } = this.sets;
    if (!gathering) return;
    const { releases = [], ...known } = this.looked.get(gathering.key) ?? {};
    const ranked = await this.rank(gathering, gathering.words, releases);
    this.setLooked(gathering.key, { trouble: null, dropped: 0, ...known, ...ranked });
    await this.answered();
  }

  /** Ranks what the files of a gathering could be: releases of a reference, and the curator's own lists. */
  private async rank(
    gathering: Gathering,
    words: string,
    theirs: readonly ReferenceRelease[],
  ): Promise<Pick<LookedUp, 'phase' | 'candidates' | 'releases'>> {
    const own = await this.ownFor(gathering);
    // Lists that were changed or deleted since are among what was ranked before.
    const releases = [...own, ...theirs.filter(({ isOwn }) => !isOwn)];
    const candidates = await this.client.rank(this.filesOf(gathering), words, releases);
    return { phase: candidates.length > 0 ? 'found' : 'nobody', candidates, releases };
  }

  /** Lists are read by a module of their own, which is only loaded if there are some. */
  private async ownFor({ type, words, items }: Gathering): Promise<readonly ReferenceRelease[]> {
    const { references } = this.library;
    if (references.length === 0) return [];
    const { ownReferencesFor } = await import('$lib/core/track-lists');
    return ownReferencesFor(references, type, words, items.length);
  }

  /** What a reference could be for the files of a gathering, without asking again. */
  propose(gathering: Gathering, releases: readonly ReferenceRelease[]): Promise<Proposal | null> {
    return this.client.propose(this.filesOf(gathering), gathering.words, releases, gathering.whole);
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
    isQuiet: boolean,
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
        return { type, fingerprints: await this.fingerprints(gathering, signal, isQuiet) };
      case 'all':
        return { type, lengths, ...(text === '' ? {} : { words: text }) };
    }
  }

  /** Fingerprints of a gathering's files, in order; an empty text if there is none. */
  private async fingerprints(gathering: Gathering, signal: AbortSignal, isQuiet: boolean): Promise<string[]> {
    return this.listening.fingerprints(this.library.findAll(gathering.items), signal, isQuiet);
  }

  private noteHeard(gathering: Gathering, heard: readonly Readonly<Record<string, number>>[]): void {
    const next = new Map(this.heard);
    gathering.items.forEach((id, index) => next.set(id, heard[index] ?? null));
    this.heard = next;
  }

  private setLooked(key: string, looked: LookedUp | null): void {
    const next = new Map(this.looked);
    if (looked) next.set(key, looked);
    else next.delete(key);
    this.looked = next;
  }
}

function troubleOf(error: unknown): NonNullable<LookedUp['trouble']> {
  if (error instanceof ServiceError) return { code: error.code, detail: error.message };
  return { code: 'other', detail: error instanceof Error ? error.message : String(error) };
}
