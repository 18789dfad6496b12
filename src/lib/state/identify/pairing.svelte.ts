import {
  NO_DECISIONS,
  TAKEN_FIELDS,
  entriesInOrder,
  type Candidate,
  type Decisions,
  type LineFile,
  type LineUp,
  type Offer,
  type ReferenceEntry,
} from '$lib/core/identify';
import type { FieldName } from '$lib/core/items';
import type { ReferenceClient } from '$lib/io/reference-client';
import type { IdentifyClient } from '$lib/workers/identify-client';
import type { Library } from '../library.svelte';
import type { Work } from '../work.svelte';
import { Accepting, type WhatIsWritten } from './accepting';
import type { LookUps } from './look-ups.svelte';
import type { Sets } from './sets.svelte';

/** What the curator chose for one gathering. Kept while the page is open. */
interface Choice {
  /** Keys of candidates: the first is the release, others lend entries for some of the files. */
  readonly candidates: readonly string[];
  readonly decisions: Decisions;
  /** The straight line-up is the one on show. */
  readonly straight: boolean;
}

const NO_CHOICE: Choice = { candidates: [], decisions: NO_DECISIONS, straight: false };

/** The line-up of the set on show, and what taking it writes. */
export class Pairing {
  offer = $state.raw<Offer | null>(null);
  /** Fields that are written when a match is accepted. */
  fields = $state.raw<ReadonlySet<FieldName>>(new Set(Object.values(TAKEN_FIELDS).flat()));
  /** Edge of the picture to take in pixels, or null for none. */
  pictureSize = $state<number | null>(null);
  withLyrics = $state(false);
  private choices = $state.raw<ReadonlyMap<string, Choice>>(new Map());

  readonly choice: Choice = $derived.by(() => this.choices.get(this.sets.openKey ?? '') ?? NO_CHOICE);
  /** The release that files are matched with, and those that supply further entries. */
  readonly chosen: readonly Candidate[] = $derived.by(() => {
    const all = this.lookUps.lookUp?.candidates ?? [];
    const picked = this.choice.candidates.flatMap((key) => all.find((one) => one.key === key) ?? []);
    return picked.length > 0 ? picked : all.slice(0, 1);
  });
  readonly entries: readonly ReferenceEntry[] = $derived.by(() =>
    this.chosen.flatMap(({ release, order }) => entriesInOrder(release, order)),
  );
  readonly lineUp: LineUp | null = $derived.by(() => {
    if (!this.offer || this.chosen.length === 0) return null;
    return this.choice.straight && this.offer.straight ? this.offer.straight : this.offer.best;
  });
  private turn = 0;

  constructor(
    private readonly library: Library,
    private readonly work: Work,
    private readonly sets: Sets,
    private readonly lookUps: LookUps,
    private readonly reference: ReferenceClient,
    private readonly client: IdentifyClient,
  ) {}

  /** What accepting a match writes, here and for several sets at once. */
  get written(): WhatIsWritten {
    const { fields, withLyrics, pictureSize } = this;
    return { fields, withLyrics, pictureSize };
  }

  rename(from: string, to: string): void {
    const choice = this.choices.get(from);
    if (choice) this.choices = new Map(this.choices).set(to, choice);
  }

  choose(candidate: string): void {
    this.change({ candidates: [candidate], straight: false, decisions: NO_DECISIONS });
  }

  /** Adds a release whose entries some of the files may belong to, or takes it away again. */
  toggleSecond(candidate: string): void {
    const now = this.chosen.map(({ key }) => key);
    const next = now.includes(candidate) ? now.filter((key) => key !== candidate) : [...now, candidate];
    this.change({ candidates: next });
  }

  /** Fixes the entry of a file; null leaves it unmatched. */
  lock(file: string, entry: string | null): void {
    const { locked, leftOut } = this.choice.decisions;
    // An entry takes one file: the one that had it before is free again.
    const rest = Object.fromEntries(
      Object.entries(locked).filter(([other, own]) => other !== file && (entry === null || own !== entry)),
    );
    this.change({
      decisions: { locked: { ...rest, [file]: entry }, leftOut: leftOut.filter((id) => id !== file) },
    });
  }

  /** Gives a file back to the pairing. */
  free(file: string): void {
    const { locked, leftOut } = this.choice.decisions;
    const { [file]: _, ...rest } = locked;
    this.change({ decisions: { locked: rest, leftOut: leftOut.filter((id) => id !== file) } });
  }

  leaveOut(file: string): void {
    const { locked, leftOut } = this.choice.decisions;
    const { [file]: _, ...rest } = locked;
    this.change({ decisions: { locked: rest, leftOut: [...leftOut.filter((id) => id !== file), file] } });
  }

  setStraight(straight: boolean): void {
    this.change({ straight });
  }

  /** Writes what the entries say into the files' descriptions, as one act. @returns whether it was written */
  async take(): Promise<boolean> {
    const { lineUp } = this;
    const { gathering } = this.sets;
    const release = this.chosen[0]?.release;
    if (!gathering || !lineUp || !release || lineUp.pairs.length === 0) return false;
    try {
      const accepting = new Accepting(this.library, this.reference, this.written);
      const accepted = await accepting.accept(this.chosen, lineUp.pairs);
      accepting.write(`Line-up of ${release.title}`, accepted);
      const open = lineUp.openFiles.length;
      this.work.say(
        `${release.title}: ${accepted.size} files described${open > 0 ? `, ${open} left open` : ''}`,
      );
      await this.sets.gatherNow();
      return true;
    } catch (error) {
      this.work.say(
        `${release.title} could not be applied: ${error instanceof Error ? error.message : String(error)}. Nothing was changed.`,
        true,
      );
      return false;
    }
  }

  private change(part: Partial<Choice>): void {
    const { openKey } = this.sets;
    if (openKey === null) return;
    const picked = this.chosen.map(({ key }) => key);
    const now = this.choice.candidates.length > 0 ? this.choice : { ...this.choice, candidates: picked };
    this.choices = new Map(this.choices).set(openKey, { ...now, ...part });
    void this.pair();
  }

  /** Pairs again; a late answer is dropped if another pairing was requested since. */
  async pair(): Promise<void> {
    const turn = ++this.turn;
    if (this.chosen.length === 0) {
      this.offer = null;
      return;
    }
    const { gathering } = this.sets;
    const { decisions } = this.choice;
    const whole = gathering?.whole;
    // A file that contains all others is not an entry, unless the curator says so.
    const leaves = whole && !(whole in decisions.locked) && !decisions.leftOut.includes(whole);
    const offer = await this.client.lineUp(
      $state.snapshot(this.lookUps.files) as readonly LineFile[],
      this.entries,
      leaves ? { ...decisions, leftOut: [...decisions.leftOut, whole] } : decisions,
    );
    if (turn === this.turn) this.offer = offer;
  }
}
