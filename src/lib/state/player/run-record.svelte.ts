import type { PastRun, TargetId } from '$lib/core/library';
import { placedAfter, isUnfinished, type Journal } from '$lib/core/run';
import type { FailedStep, PlacedFile, StepType, ThereFile } from '$lib/core/plan';
import type { Library } from '../library.svelte';
import type { OfPlayer } from './owner';
import type { AgreedBase, PlayerPlace } from './place.svelte';

const NONE: readonly PlacedFile[] = [];

/** The runs to the selected target, and the files that they left. */
export class RunRecord {
  /** Of the last run. */
  journal = $state.raw<Journal | null>(null);
  /** Runs before the last one, latest first. */
  past = $state.raw<readonly PastRun[]>([]);

  constructor(
    private readonly of: OfPlayer,
    private readonly place: PlayerPlace,
    private readonly library: Library,
  ) {}

  /** A run that was cut off, cancelled or half taken back comes before anything else at its place. */
  get isUnfinished(): boolean {
    return this.journal !== null && isUnfinished(this.journal);
  }

  /** Our files on the player: from the journal, which is exact during a run, or else from the base. */
  readonly placed: readonly PlacedFile[] = $derived.by(() => {
    if (!this.place.can.lists) return NONE;
    return this.journal ? placedBy(this.journal) : this.library.baseOf(this.place.target.id);
  });

  get base(): AgreedBase {
    return { placed: this.placed, agreedAt: this.journal?.endedAt ?? null };
  }

  /** Identifies the state of the last run. */
  get stamp(): string | null {
    const { journal } = this;
    return journal && `${journal.id} ${journal.state} ${journal.endedAt}`;
  }

  /** Steps of the last run that failed, without those that failed only because another one did. */
  get failed(): readonly FailedStep[] {
    return this.journal ? failedSteps(this.journal) : [];
  }

  /** Nothing is known of a target that was just selected. */
  clear(): void {
    this.journal = null;
    this.past = [];
  }

  async find(target: TargetId): Promise<Pick<RunRecord, 'journal' | 'past'>> {
    const { runs } = this.library.storage;
    const journal = await runs.latest(target);
    const [, ...past] = await runs.list(target);
    return { journal, past };
  }

  keep({ journal, past }: Pick<RunRecord, 'journal' | 'past'>): void {
    this.journal = journal;
    this.past = past;
    this.keepPlaced();
  }

  /** Reads the last run again: it went on in its worker. */
  async refresh(): Promise<void> {
    const { journal, past } = await this.find(this.place.target.id);
    this.journal = journal;
    this.past = past;
  }

  /** Updates the record from the journal: the page may have been closed during the run. */
  keepPlaced(): void {
    const { placed } = this;
    const { target, can } = this.place;
    const base = this.library.baseOf(target.id);
    if (!can.lists || placed === base || JSON.stringify(placed) === JSON.stringify(base)) return;
    this.library.setBase(target.id, placed);
    // A completed run carried decisions out; what failed is asked again.
    if (this.journal?.state === 'finished' && target.choices.sides.length > 0)
      this.library.setChoices(this.of.player, target, { ...target.choices, sides: [] });
  }

  /** All files that were there before the last run, as listed then. */
  thereBefore(): Promise<readonly ThereFile[]> {
    return this.journal
      ? this.library.storage.runs.thereBefore(this.place.target.id, this.journal.id)
      : Promise.resolve([]);
  }

  /** The journal of an earlier run; null if only its totals are kept. */
  journalOf(run: string): Promise<Journal | null> {
    return this.library.storage.runs.load(this.place.target.id, run);
  }
}

const placedOf = new WeakMap<Journal, readonly PlacedFile[]>();

/**
 * Our files on a player according to a journal. Always the same list for a journal, because a different one has the
 * player listed again.
 */
function placedBy(journal: Journal): readonly PlacedFile[] {
  if (journal.state === 'takenBack') return journal.placedBefore;
  let placed = placedOf.get(journal);
  if (!placed) placedOf.set(journal, (placed = placedAfter(journal)));
  return placed;
}

function failedSteps({ state, steps, outcomes }: Journal): readonly FailedStep[] {
  if (state !== 'finished') return [];
  return outcomes.flatMap((outcome, index): FailedStep[] => {
    const step = steps[index];
    if (outcome.type !== 'failed' || !step || !TOLD_AGAIN.has(step.type)) return [];
    if (outcome.code === 'itemFailed' || outcome.code === 'changedSince') return [];
    return [{ path: step.path, code: outcome.code, detail: outcome.detail }];
  });
}

const TOLD_AGAIN: ReadonlySet<StepType> = new Set(['copy', 'writePicture', 'writeText', 'move']);
