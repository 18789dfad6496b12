import type { PastRun, TargetId } from '$lib/core/library';
import type { Step, ThereFile } from '$lib/core/plan';
import type { Databases } from './databases';
import { KEPT, checkVersion } from './kept';
import { migrateJournal, totalsOf, type Journal, type Outcome } from '$lib/core/run';

/** Steps, and outcomes, that share one record. */
const CHUNK_STEPS = 200;
/** Past runs that are remembered of a target. */
const MOST_RUNS = 50;
/** Steps that are kept of them all; of older runs only the counts are. */
const MOST_STEPS = 200_000;

interface RunList {
  readonly version: number;
  /** The latest first. */
  readonly runs: readonly PastRun[];
}

type Head = Omit<Journal, 'steps' | 'outcomes'> & { readonly stepCount: number };

/** The runs at each target, each journal by the id of its run, and a list of what came of them. */
export class RunHistory {
  constructor(private readonly databases: Databases) {}

  /**
   * Begins a journal: its steps in chunks, no outcomes yet.
   * @param there all that lay there before the run, with digests where the place keeps them
   */
  async start(target: TargetId, journal: Journal, there: readonly ThereFile[] = []): Promise<void> {
    const store = this.databases.writable('journals');
    await store.setItem(`${target}:${journal.id}:there`, there);
    for (const [index, steps] of chunksOf(journal.steps).entries()) {
      await store.setItem(`${target}:${journal.id}:steps:${index}`, steps);
      await store.setItem(`${target}:${journal.id}:outcomes:${index}`, []);
    }
    await this.saveHead(target, journal);
    await this.prune(target);
  }

  /** Keeps how a run stands, and what came of it so far in the list. */
  async saveHead(target: TargetId, journal: Journal): Promise<void> {
    const { steps, outcomes: _, ...head } = journal;
    await this.databases
      .writable('journals')
      .setItem(`${target}:${journal.id}:head`, { ...head, stepCount: steps.length });
    const runs = await this.list(target);
    const told = summaryOf(journal);
    const isKnown = runs.some(({ id }) => id === told.id);
    await this.saveList(
      target,
      isKnown ? runs.map((one) => (one.id === told.id ? told : one)) : [told, ...runs],
    );
  }

  /** Keeps the chunk of outcomes that holds the one at `changed`. */
  async saveOutcomes(
    target: TargetId,
    run: string,
    outcomes: readonly Outcome[],
    changed: number,
  ): Promise<void> {
    const chunk = Math.floor(changed / CHUNK_STEPS);
    const slice = outcomes.slice(chunk * CHUNK_STEPS, (chunk + 1) * CHUNK_STEPS);
    await this.databases.writable('journals').setItem(`${target}:${run}:outcomes:${chunk}`, slice);
  }

  /** The journal of the last run at a target. */
  async latest(target: TargetId): Promise<Journal | null> {
    const [last] = await this.list(target);
    return last ? this.load(target, last.id) : null;
  }

  /** Null where nothing is kept of a run but its counts. */
  async load(target: TargetId, run: string): Promise<Journal | null> {
    return this.read(`${target}:${run}`);
  }

  /** What lay there before a run; nothing where that is not kept any more. */
  async thereBefore(target: TargetId, run: string): Promise<readonly ThereFile[]> {
    return (
      (await this.databases.readable('journals').getItem<readonly ThereFile[]>(`${target}:${run}:there`)) ??
      []
    );
  }

  /** All runs that are remembered of a target, latest first. */
  async list(target: TargetId): Promise<readonly PastRun[]> {
    const list = await this.databases.readable('journals').getItem<RunList>(`${target}:runs`);
    if (list) checkVersion(list.version, KEPT.journals.list, 'a list of runs');
    return list?.runs ?? [];
  }

  /** Forgets one run. */
  async remove(target: TargetId, run: string): Promise<void> {
    await this.saveList(
      target,
      (await this.list(target)).filter(({ id }) => id !== run),
    );
    await this.dropKeys((key) => key.startsWith(`${target}:${run}:`));
  }

  /** Forgets the runs at a target. */
  async drop(target: TargetId): Promise<void> {
    await this.dropKeys((key) => key.startsWith(`${target}:`));
  }

  /** Up to version 5 of a library one journal was kept of each target, and the counts of those before. */
  async adopt(target: TargetId): Promise<void> {
    const store = this.databases.writable('journals');
    const journal = await this.read(target);
    const past = (await store.getItem<Omit<PastRun, 'steps' | 'isKept'>[]>(`${target}:past`)) ?? [];
    if (!journal && past.length === 0) return;
    await this.saveList(
      target,
      past.map((one) => ({ ...one, steps: one.done + one.failed, isKept: false })),
    );
    if (journal) {
      await this.start(target, journal);
      for (let at = 0; at < journal.outcomes.length; at += CHUNK_STEPS)
        await this.saveOutcomes(target, journal.id, journal.outcomes, at);
    }
    const old = /^(head|past|(steps|outcomes):\d+)$/;
    await this.dropKeys((key) => key.startsWith(`${target}:`) && old.test(key.slice(target.length + 1)));
  }

  private async dropKeys(isOne: (key: string) => boolean): Promise<void> {
    const store = this.databases.writable('journals');
    for (const key of await store.keys()) if (isOne(key)) await store.removeItem(key);
  }

  private async read(at: string): Promise<Journal | null> {
    const store = this.databases.readable('journals');
    const head = await store.getItem<Head>(`${at}:head`);
    if (!head) return null;
    const { stepCount, ...rest } = head;
    const steps: Step[] = [];
    const outcomes: Outcome[] = [];
    for (let index = 0; index * CHUNK_STEPS < stepCount; index++) {
      steps.push(...((await store.getItem<Step[]>(`${at}:steps:${index}`)) ?? []));
      outcomes.push(...((await store.getItem<Outcome[]>(`${at}:outcomes:${index}`)) ?? []));
    }
    return migrateJournal({ ...rest, steps, outcomes });
  }

  private async saveList(target: TargetId, runs: readonly PastRun[]): Promise<void> {
    const list: RunList = { version: KEPT.journals.list, runs };
    await this.databases.writable('journals').setItem(`${target}:runs`, list);
  }

  /** Forgets the steps of old runs, and the oldest runs. The last run keeps all that it has. */
  private async prune(target: TargetId): Promise<void> {
    const all = await this.list(target);
    let steps = 0;
    const runs = all.slice(0, MOST_RUNS).map((run, index) => {
      steps += run.steps;
      return index === 0 || (run.isKept && steps <= MOST_STEPS) ? run : { ...run, isKept: false };
    });
    const kept = new Set(runs.filter(({ isKept }) => isKept).map(({ id }) => id));
    const gone = all.filter(({ id, isKept }) => isKept && !kept.has(id));
    if (gone.length === 0 && runs.length === all.length) return;
    await this.saveList(target, runs);
    await this.dropKeys((key) => gone.some(({ id }) => key.startsWith(`${target}:${id}:`)));
  }
}

function summaryOf(journal: Journal): PastRun {
  const { id, startedAt, endedAt, state, steps } = journal;
  const { done, failed } = totalsOf(journal);
  return {
    id,
    startedAt,
    endedAt,
    takenBack: state === 'takenBack',
    done,
    failed,
    steps: steps.length,
    isKept: true,
  };
}

function chunksOf(list: readonly Step[]): Step[][] {
  const chunks: Step[][] = [];
  for (let at = 0; at < list.length; at += CHUNK_STEPS) chunks.push(list.slice(at, at + CHUNK_STEPS));
  return chunks;
}
