import { isEdited, kindOf, type Item, type ItemId, type SourceId } from '$lib/core/items';
import type { Change } from '$lib/core/library';
import {
  jobOf,
  partsToPutBack,
  planOriginal,
  puttingBack,
  withTakenBack,
  withWritten,
  type OriginalJob,
  type OriginalPlan,
  type PartToPutBack,
} from '$lib/core/originals';
import { selectionTest, toPlanItem } from '$lib/core/plan';
import { findPlace, refusalOf } from '$lib/core/rulebooks';
import { isUnfinished, type FailureCode } from '$lib/core/run';
import { outgoingOf } from '$lib/formats';
import { newId } from '$lib/io/new-id';
import type { OriginalsRun } from '$lib/io/storage';
import { OpenError, askToWrite, openItem } from '$lib/io/take-in/open-item';
import { OriginalsClient } from '$lib/workers/originals-client';
import type { OriginalsResult } from '$lib/workers/originals-protocol';
import type { PlayerDesk } from './player/desk.svelte';
import type { Session } from './session.svelte';

/** Items that are looked at before the page gets its turn. */
const AT_ONCE = 500;
/** Files read again before the library gets them. */
const HAND_OVER = 100;

const NOT_ALLOWED = 'The browser has no permission to change files there. Nothing was written.';

/** A file of a run that is not as the run was to have it. */
export interface OriginalTrouble {
  readonly path: string;
  readonly code: FailureCode;
  readonly detail: string;
  /** The run's changes in a file that was changed later, part by part. */
  readonly parts: readonly PartToPutBack[];
}

export type WritingPlan = Extract<OriginalPlan, { type: 'writes' }> & Pick<OriginalJob, 'again'>;

/** Writes the descriptions of items into their original files, at the curator's request. */
class OriginalsDesk {
  /** The latest first. */
  runs = $state.raw<readonly OriginalsRun[]>([]);
  busy = $state(false);
  trouble = $state<string | null>(null);
  /** One that broke off goes on or is taken back before another begins. */
  readonly unfinished: OriginalsRun | null = $derived.by(() => this.runs.find(isUnfinished) ?? null);

  private readonly client = new OriginalsClient();
  private opening: Promise<void> | null = null;

  constructor(private readonly session: Pick<Session, 'library' | 'work' | 'parsePool'>) {}

  /** Reads which runs there were. What one wrote before the page was closed on it is taken up. */
  open(): Promise<void> {
    return (this.opening ??= this.takeUp().finally(() => (this.opening = null)));
  }

  private async takeUp(): Promise<void> {
    await this.refresh();
    // A run in progress here takes up its results at its end.
    if (this.busy || !this.session.library.mayWrite) return;
    for (const run of this.runs) if (!run.isFollowed && run.isKept) await this.follow(run);
    await this.refresh();
  }

  end(): void {
    this.client.end();
  }

  /** The changes to originals of all items with edits. */
  *planSteps(items: readonly Item[]): Generator<void, readonly OriginalPlan[]> {
    const folders = new Set(
      this.session.library.sources.filter(({ type }) => type === 'folder').map(({ id }) => id),
    );
    const plans: OriginalPlan[] = [];
    for (const [index, item] of items.entries()) {
      const plan = planOriginal(item, folders.has(item.source), outgoingOf);
      if (plan) plans.push(plan);
      if (index % AT_ONCE === AT_ONCE - 1) yield;
    }
    return plans;
  }

  /** The same for items that a player gets. */
  *goingSteps(
    { rulebook, player, target }: Pick<PlayerDesk, 'rulebook' | 'player' | 'target'>,
    items: readonly Item[],
    /** Items in the player's lists. */
    listed: ReadonlySet<ItemId>,
  ): Generator<void, readonly OriginalPlan[]> {
    const isSelected = selectionTest(player.selection, listed);
    const leftOut = new Set(target.choices.leftOut);
    const goes: Item[] = [];
    for (const [index, item] of items.entries()) {
      if (index % AT_ONCE === AT_ONCE - 1) yield;
      if (!isEdited(item) || leftOut.has(item.id)) continue;
      const kind = kindOf(item);
      const planned = toPlanItem(item, outgoingOf);
      if (kind && findPlace(rulebook, kind) && !refusalOf(rulebook, kind, planned) && isSelected(planned))
        goes.push(item);
    }
    return yield* this.planSteps(goes);
  }

  /**
   * Writes into these originals. Must follow a click, because it asks for folders.
   * @returns whether it was completed
   */
  async write(plans: readonly WritingPlan[]): Promise<boolean> {
    if (this.busy || this.unfinished || plans.length === 0) return false;
    const began = await this.work(async () => {
      const shut = await this.askFor(new Set(plans.map(({ item }) => item.source)));
      const jobs = plans
        .filter(({ item }) => !shut.has(item.source))
        .map(({ item, changes, kind, again }) => ({
          ...jobOf(item, changes, kind),
          ...(again && { again }),
        }));
      if (jobs.length === 0) {
        this.trouble = NOT_ALLOWED;
        return;
      }
      const run: OriginalsRun = {
        id: newId(),
        startedAt: Date.now(),
        endedAt: null,
        state: 'running',
        reason: null,
        count: jobs.length,
        done: 0,
        failed: 0,
        undone: 0,
        isKept: true,
        isFollowed: false,
      };
      await this.session.library.flush();
      await this.session.library.storage.originals.start(run, jobs);
      await this.go(run, 'write');
    });
    return began && this.trouble === null && this.unfinished === null;
  }

  /** Continues an interrupted run. Must follow a click, as `write` must. */
  async goOn(run: OriginalsRun): Promise<void> {
    await this.again(run, run.state === 'takingBack' ? 'takeBack' : 'write');
  }

  /** Must follow a click, as `write` must. */
  async takeBack(run: OriginalsRun): Promise<void> {
    await this.again(run, 'takeBack');
  }

  /** The permission to change files may have ended with the last visit: all folders of the run are needed. */
  private async again(run: OriginalsRun, type: 'write' | 'takeBack'): Promise<void> {
    await this.work(async () => {
      const { jobs } = await this.session.library.storage.originals.load(run);
      const shut = await this.askFor(new Set(jobs.map(({ source }) => source)));
      if (shut.size > 0) this.trouble = NOT_ALLOWED;
      else await this.go(run, type);
    });
  }

  /** Files of a run that were not written, and those that taking back left alone. */
  async troubles(run: OriginalsRun): Promise<readonly OriginalTrouble[]> {
    const { jobs, outcomes } = await this.session.library.storage.originals.load(run);
    return jobs.flatMap((job, index): OriginalTrouble[] => {
      const { path } = job;
      const outcome = outcomes[index];
      if (outcome?.type === 'failed')
        return [{ path, code: outcome.code, detail: outcome.detail, parts: [] }];
      if (run.state !== 'takenBack' || outcome?.type !== 'done') return [];
      const item = this.session.library.find(job.item);
      const code = outcome.left ?? 'changedSince';
      const parts = item && code === 'changedSince' ? partsToPutBack(job, item) : [];
      return [{ path, code, detail: '', parts }];
    });
  }

  /**
   * Puts back what a run wrote into files that were changed later, where it is still unchanged: later changes stay.
   * This is a run of its own. Must follow a click, as `write` must.
   */
  async putBack(run: OriginalsRun): Promise<void> {
    const { library } = this.session;
    const { jobs, outcomes } = await library.storage.originals.load(run);
    const plans = jobs.flatMap((job, index): WritingPlan[] => {
      const item = library.find(job.item);
      const isLeft = outcomes[index]?.type === 'done';
      const back = item && isLeft ? puttingBack(job, item) : null;
      return item && back ? [{ type: 'writes', item, kind: null, unheld: [], ...back }] : [];
    });
    await this.write(plans);
  }

  /** Deletes the way back: the run can no longer be taken back. */
  async takeAsGood(run: OriginalsRun): Promise<void> {
    await this.work(async () => {
      const state = run.state === 'takenBack' ? run.state : 'finished';
      await this.session.library.storage.originals.takeAsGood({ ...run, state });
    });
  }

  /** @returns whether it was started */
  private async work(act: () => Promise<void>): Promise<boolean> {
    if (this.busy || !this.session.library.mayWrite) return false;
    this.busy = true;
    this.trouble = null;
    try {
      await act();
    } catch (error) {
      this.trouble = error instanceof Error ? error.message : String(error);
    } finally {
      await this.refresh();
      this.busy = false;
    }
    return true;
  }

  private async refresh(): Promise<void> {
    this.runs = await this.session.library.storage.originals.list();
  }

  /** Asks for the folders of sources. @returns those that may not be changed */
  private async askFor(sources: ReadonlySet<SourceId>): Promise<ReadonlySet<SourceId>> {
    const shut = new Set<SourceId>();
    for (const source of sources) {
      const handle = await this.session.library.storage.handles.find(source);
      if (!handle || !(await askToWrite(handle))) shut.add(source);
    }
    return shut;
  }

  private async go(run: OriginalsRun, type: 'write' | 'takeBack'): Promise<void> {
    const { work, library } = this.session;
    const label = type === 'write' ? 'Write into originals' : 'Restore originals';
    const job = work.start(label, run.count, type === 'write' ? () => this.client.cancel() : null);
    try {
      const result = await this.client.do({ type, library: library.name, run: run.id }, (ended) =>
        job.progress(ended),
      );
      const now = (await library.storage.originals.list()).find(({ id }) => id === run.id) ?? run;
      await this.follow(now);
      job.finish(inWords(result, now), result.type === 'failed' || now.failed > 0);
    } finally {
      job.end();
    }
  }

  /** Brings items to what their files say after a run, or after its taking back. */
  private async follow(run: OriginalsRun): Promise<void> {
    const { library } = this.session;
    const { jobs, outcomes } = await library.storage.originals.load(run);
    let changes: Change[] = [];
    let isShut = false;
    for (const [index, job] of jobs.entries()) {
      const type = outcomes[index]?.type;
      if (type !== 'done' && type !== 'undone') continue;
      const change = await this.readAgain(job, type === 'done');
      if (change === 'shut') isShut = true;
      else if (change) changes.push(change);
      if (changes.length < HAND_OVER) continue;
      library.put(changes);
      changes = [];
    }
    library.put(changes);
    await library.flush();
    // Folders that wait for permission are read once it is given.
    await library.storage.originals.save({ ...run, isFollowed: !isShut });
  }

  /** @returns `shut` if its folder may not be read; null if the file or its item is gone */
  private async readAgain(job: OriginalJob, isWritten: boolean): Promise<Change | 'shut' | null> {
    const { library } = this.session;
    const blob = await openItem(library.storage, job.source, job.path).catch((error: unknown) =>
      error instanceof OpenError && error.code === 'noPermission' ? 'shut' : null,
    );
    if (blob === 'shut') return blob;
    const outcome = blob && (await this.session.parsePool().read(job.path, blob, true));
    // The item as it is now: it may have been edited while its file was written.
    const before = library.find(job.item);
    if (!blob || outcome?.type !== 'read' || !before) return null;
    const { format, facts, file, native } = outcome.read;
    const modified = blob instanceof File ? blob.lastModified : before.modified;
    const read: Item = {
      ...before,
      size: blob.size,
      modified,
      format,
      facts,
      file,
      native,
      guess: outcome.guess,
    };
    if (!isWritten) return { id: before.id, before, after: withTakenBack(read, job.changes) };
    const written = withWritten(read, job.changes);
    return { id: before.id, before, after: job.again ? withTakenBack(written, job.again) : written };
  }
}

/** The desk of a session, made with its kept runs when first needed. */
export const originalsOf = (session: Session): OriginalsDesk =>
  session.part('originals', () => {
    const desk = new OriginalsDesk(session);
    void desk.open();
    return desk;
  });

const files = (count: number) => `${count} ${count === 1 ? 'original' : 'originals'}`;

function inWords(result: OriginalsResult, { done, failed, undone, count }: OriginalsRun): string {
  switch (result.type) {
    case 'failed':
      return result.code === 'elsewhere'
        ? 'Originals: another tab is writing to them'
        : `Originals: the run stopped: ${result.detail}`;
    case 'takenBack':
      return result.left.length === 0
        ? `${files(undone)} restored, byte for byte`
        : `${files(undone)} restored; ${result.left.length} skipped, changed since: ${result.left[0]?.path}`;
    case 'written': {
      const said = `${files(done)} written${failed > 0 ? `, ${failed} could not be` : ''}`;
      if (result.state === 'finished') return said;
      return `${said} of ${count} before ${result.state === 'cancelled' ? 'you cancelled' : 'the disk was full'}`;
    }
  }
}
