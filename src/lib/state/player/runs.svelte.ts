import { newId } from '$lib/io/new-id';
import { storeOf } from '$lib/io/stores/store-of';
import { JOURNAL_VERSION, placedAfter, totalsOf, type Journal } from '$lib/core/run';
import type { PlanDigest, Proof } from '$lib/core/plan';
import { RunClient } from '$lib/workers/run-client';
import type { RunResult } from '$lib/workers/run-protocol';
import type { Intake } from '../intake.svelte';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';
import type { Work } from '../work.svelte';
import { FromPlayer } from './from-player';
import type { OfPlayer } from './owner';
import type { PlayerPlace } from './place.svelte';
import { comingOf, hasToDo, type Rehearsal } from './rehearsal.svelte';
import type { RunRecord } from './run-record.svelte';
import { wordsOf } from './words-of';

/** Steps of a run that have ended, and all of them. */
interface Progress {
  readonly done: number;
  readonly total: number;
}

/** What is being done. `starting`: the place is looked at again, and nothing is written yet. */
type Doing =
  | { readonly type: 'nothing' }
  | { readonly type: 'starting' }
  | { readonly type: 'running'; readonly progress: Progress | null };

const NOTHING: Doing = { type: 'nothing' };

/** What the parts of a desk have in common that runs are made with. */
interface Parts {
  readonly place: PlayerPlace;
  readonly record: RunRecord;
  readonly rehearsal: Rehearsal;
}

/** Runs to a player: begun, gone on with, taken back, and proved. */
export class PlayerRuns {
  proof = $state.raw<Proof | null>(null);
  /** Why the player's own scan could not be read; null if it could. */
  trouble = $state<string | null>(null);
  private doing = $state.raw<Doing>(NOTHING);
  /** The run before, if the current one repeats its failed steps. */
  private retryOf: Journal | null = null;
  private readonly fromPlayer: FromPlayer;

  constructor(
    private readonly of: OfPlayer,
    private readonly parts: Parts,
    private readonly library: Library,
    private readonly work: Work,
    private readonly mirror: LibraryMirror,
    intake: () => Pick<Intake, 'takeIn' | 'sourceOf'>,
    private readonly runner = new RunClient(),
  ) {
    this.fromPlayer = new FromPlayer(library, intake);
  }

  get isRunning(): boolean {
    return this.doing.type === 'running';
  }

  /** Something is starting, running or being completed: nothing else can begin. */
  get isBusy(): boolean {
    return this.doing.type !== 'nothing';
  }

  get progress(): Progress | null {
    return this.doing.type === 'running' ? this.doing.progress : null;
  }

  /** One run at a time, and none in a tab that only looks on. */
  get mayStart(): boolean {
    return !this.isRunning && this.library.mayWrite;
  }

  /** An earlier proof no longer applies. */
  clear(): void {
    this.proof = null;
    this.trouble = null;
  }

  /** Applies the plan on show, if the place is still as it was rehearsed for. */
  async start(): Promise<void> {
    await this.once(() => this.lookAndRun());
  }

  /** Updates the player as far as no decision is needed and nothing is removed. */
  async startBySelf(): Promise<void> {
    await this.once(async () => {
      const { plan } = this.parts.rehearsal;
      // A run without steps would make the last one impossible to take back, for nothing.
      if (this.mayRun(plan) && this.parts.place.trouble === null && doesMore(plan))
        await this.carryOut(plan, true);
    });
  }

  /** Lists the place and rehearses again. */
  async look(): Promise<void> {
    this.parts.place.forget();
    this.clear();
    await this.parts.rehearsal.planNow();
  }

  private async lookAndRun(): Promise<void> {
    const seen = this.parts.rehearsal.plan;
    if (!this.mayRun(seen)) return;
    const plan = await this.lookedAgain(seen);
    if (this.mayRun(plan)) await this.carryOut(plan, false);
  }

  /** The plan after looking at the place again; null, with a message, if it differs or failed. */
  private async lookedAgain(seen: PlanDigest | null): Promise<PlanDigest | null> {
    await this.look();
    const { place, rehearsal } = this.parts;
    const trouble = place.trouble ?? rehearsal.trouble;
    if (trouble !== null) {
      this.work.say(`${this.of.name} does not answer: ${trouble}`, true);
      return null;
    }
    if (JSON.stringify(rehearsal.plan) === JSON.stringify(seen)) return rehearsal.plan;
    this.work.say(`${this.of.name} has changed: check the new rehearsal, then run it`, true);
    return null;
  }

  /** What is being started is not started once more: looking and keeping come before a run counts as under way. */
  private async once(start: () => Promise<void>): Promise<void> {
    if (this.doing.type === 'nothing') await this.during({ type: 'starting' }, start);
  }

  private async during<T>(doing: Doing, act: () => Promise<T>): Promise<T> {
    const before = this.doing;
    this.doing = doing;
    try {
      return await act();
    } finally {
      this.doing = before;
    }
  }

  private mayRun(plan: PlanDigest | null): plan is PlanDigest {
    const { rehearsal, record } = this.parts;
    return this.mayStart && plan !== null && !rehearsal.isPlanning && !record.isUnfinished && hasToDo(plan);
  }

  private async carryOut(plan: PlanDigest, isMild: boolean): Promise<void> {
    await this.library.flush();
    const last = this.parts.record.journal;
    // What failed is tried again: the run before can be taken back until something of this one is done.
    const isRetry = last !== null && plan.stepCount > 0 && plan.stepCount <= totalsOf(last).failed;
    if (last && !isRetry && !(await this.releaseLast(last))) return;
    this.retryOf = isRetry ? last : null;
    const start = { id: newId(), startedAt: Date.now(), ...(isMild && { isMild: true as const }) };
    try {
      const comes = comingOf(plan) > 0 && this.parts.place.can.lists;
      if (comes) await this.take(await this.noteComing(start));
      else await this.begin(start);
    } catch (error) {
      this.work.say(`${this.of.name}: the run could not start: ${wordsOf(error)}`, true);
    }
  }

  /** Records what comes from the player before it is taken: the journal covers both halves of a sync. */
  private async noteComing(start: Pick<Journal, 'id' | 'startedAt' | 'isMild'>): Promise<Journal> {
    const { record, place } = this.parts;
    const coming = await this.mirror.client.comes(this.of.id);
    const journal: Journal = {
      ...start,
      version: JOURNAL_VERSION,
      endedAt: null,
      state: 'taking',
      reason: null,
      steps: [],
      outcomes: [],
      placedBefore: record.placed,
      took: await this.fromPlayer.plan(this.of, coming, record.placed),
    };
    await this.library.storage.runs.start(place.target.id, journal);
    record.journal = journal;
    return journal;
  }

  /** The first half. The steps are planned for the library with what comes from the player. */
  private async take(journal: Journal): Promise<void> {
    const { record, place, rehearsal } = this.parts;
    const at = place.address();
    const { took: noted } = journal;
    if (!noted) return;
    await this.during({ type: 'running', progress: null }, async () => {
      const took = await this.fromPlayer.take(this.of, noted, storeOf(at));
      const taken: Journal = { ...journal, took };
      if (took.placed.length + took.lists.length > 0)
        this.library.setBase(place.target.id, placedAfter(taken));
      await this.library.flush();
      await this.library.storage.runs.saveHead(place.target.id, taken);
      record.journal = taken;
      await rehearsal.planNow();
      await this.begin(taken);
    });
  }

  /** A run that did nothing is dropped: the one before remains the last and can be taken back. */
  private async endRetry(last: Journal): Promise<void> {
    const { record, place } = this.parts;
    const { journal } = record;
    this.retryOf = null;
    if (!journal || journal.id === last.id || record.isUnfinished) return;
    if (totalsOf(journal).done > 0 || journal.took) {
      await this.releaseLast(last);
      return;
    }
    await this.library.storage.runs.remove(place.target.id, journal.id);
    record.journal = last;
  }

  /** The second half, in the journal of the first. */
  private async begin({
    id,
    startedAt,
    took,
    isMild,
  }: Pick<Journal, 'id' | 'startedAt' | 'took' | 'isMild'>): Promise<void> {
    const steps = await this.mirror.client.begin({
      isMild: isMild ?? false,
      player: this.of.id,
      token: this.parts.rehearsal.token,
      library: this.library.name,
      target: this.parts.place.target.id,
      journal: { id, startedAt, ...(took && { took }) },
    });
    if (steps > 0 || took) await this.apply(steps);
  }

  /** Goes on with a run that was cancelled, stopped, or cut off by a reload. */
  async resume(): Promise<void> {
    const { record, rehearsal } = this.parts;
    const { journal } = record;
    if (!this.mayStart || !journal || !record.isUnfinished || journal.state === 'takingBack') return;
    await this.once(async () => {
      if (journal.state !== 'taking') return this.apply(journal.steps.length);
      if (!(await this.lookedAgain(rehearsal.plan))) return;
      try {
        await this.take(journal);
      } catch (error) {
        this.work.say(`${this.of.name}: the run could not continue: ${wordsOf(error)}`, true);
      }
    });
  }

  async takeBack(): Promise<void> {
    const { journal } = this.parts.record;
    if (journal && this.mayStart) await this.once(() => this.undo(journal));
  }

  private async undo(journal: Journal): Promise<void> {
    const { record, place } = this.parts;
    const { took } = journal;
    const { runs } = this.library.storage;
    const { id } = place.target;
    if (took) {
      // Recorded first, like everything that follows: if it is interrupted from here on, it is continued from this end.
      await runs.saveHead(id, { ...journal, state: 'takingBack' });
      const kept = await this.fromPlayer.giveBack(this.of.name, took);
      await this.library.flush();
      if (kept > 0) this.work.say(`${kept} items were changed since the run and stay as they are`, true);
    }
    const isHalf = journal.steps.length === 0;
    if (isHalf) await runs.saveHead(id, { ...journal, state: 'takenBack', endedAt: Date.now() });
    const result: RunResult = isHalf
      ? { type: 'takenBack', undone: 0, left: [] }
      : await this.inWorker('Take back the run', journal.outcomes.length, 'takeBack');
    record.journal = await runs.latest(id);
    record.keepPlaced();
    this.proof = null;
    if (result.type !== 'takenBack') return this.failed(result);
    this.work.say(
      result.left.length === 0
        ? `Run taken back: ${result.undone} ${result.undone === 1 ? 'step' : 'steps'} undone`
        : `Run taken back, except ${result.left.length} files that changed since: ${result.left[0]?.path}`,
      result.left.length > 0,
    );
    await this.refresh();
  }

  cancel(): void {
    this.runner.cancel();
  }

  /** Ends its worker, with the library. A run under way is found in its journal when it is opened again. */
  end(): void {
    this.runner.end();
  }

  /** What an earlier run held aside goes for good before a new run begins; its taking back ends here. */
  private async releaseLast(journal: Journal): Promise<boolean> {
    const holds = journal.outcomes.some(
      (outcome) =>
        (outcome.type === 'done' && outcome.was !== null) ||
        (outcome.type === 'failed' && outcome.hold !== null),
    );
    if (!holds) return true;
    const result = await this.inWorker('Delete what the last run kept aside', null, 'takeAsGood', journal.id);
    if (result.type === 'good') return true;
    this.failed(result);
    return false;
  }

  /** @param steps how many the run has */
  private async apply(steps: number): Promise<void> {
    const { record, place } = this.parts;
    const result = await this.inWorker(`${this.of.name} run`, steps, 'apply');
    const after = await this.library.storage.runs.latest(place.target.id);
    record.journal = after;
    record.keepPlaced();
    await this.library.flush();
    if (result.type !== 'applied' || !after) return this.failed(result);
    // Before the message: a run that is reported as finished can be taken back at once.
    if (this.retryOf) await this.endRetry(this.retryOf);
    this.work.say(inWords(this.of.name, after), result.state === 'stopped' || totalsOf(after).failed > 0);
    await this.refresh();
    if (place.can.scansItself && result.state === 'finished') await this.readProof();
  }

  private async refresh(): Promise<void> {
    const { record, place } = this.parts;
    await record.refresh();
    await place.refreshZip();
    await this.look();
  }

  /** Reads the player's own scan and compares it with the rehearsal. */
  async readProof(): Promise<void> {
    const { device } = this.of.player;
    const { rehearsal } = this.parts;
    if (!rehearsal.plan || device === null) return;
    try {
      this.proof = await rehearsal.prove(device);
    } catch (error) {
      this.trouble = wordsOf(error);
    }
  }

  private async inWorker(
    label: string,
    total: number | null,
    type: 'apply' | 'takeBack' | 'takeAsGood',
    run?: string,
  ): Promise<RunResult> {
    const job = this.work.start(label, total, type === 'apply' ? () => this.cancel() : null);
    return this.during({ type: 'running', progress: null }, async () => {
      try {
        const { place } = this.parts;
        const { name: library } = this.library;
        const request = { type, library, target: place.target.id, at: place.address(), ...(run && { run }) };
        return await this.runner.do(request, (done) => {
          job.progress(done);
          this.doing = { type: 'running', progress: { done, total: total ?? 0 } };
        });
      } finally {
        job.end();
      }
    });
  }

  private failed(result: RunResult): void {
    // An internal error is reported by its message alone: its code means nothing to people.
    const known = result.type === 'failed' && result.code !== 'fault' ? `${result.code}: ` : '';
    const detail = result.type === 'failed' ? known + result.detail : result.type;
    this.work.say(
      `${this.of.name}: the run stopped, ${detail}${this.parts.record.isUnfinished ? '; it can be resumed' : ''}`,
      true,
    );
  }
}

/** Whether a run that removes nothing has anything to do. */
function doesMore({ stepCount, steps, comes }: PlanDigest): boolean {
  return stepCount - steps.remove - steps.agree - steps.makeFolder + comingOf({ comes }) > 0;
}

function inWords(player: string, journal: Journal): string {
  const { done, failed, left } = totalsOf(journal);
  const steps = done === 1 ? '1 step' : `${done} steps`;
  if (journal.state === 'cancelled') return `${player} run cancelled: ${steps} done, ${left} left`;
  if (journal.state === 'stopped')
    return `${player} run stopped, it can be resumed: ${steps} done, ${left + failed} left`;
  return `${player} run finished: ${steps}, ${failed === 0 ? 'none' : failed} failed`;
}
