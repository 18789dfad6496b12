import type { FailureCode, RunState } from '$lib/core/run';
import type { OriginalJob, OriginalOutcome } from '$lib/core/originals';
import type { Databases } from './databases';
import { KEPT } from './kept';

/** Jobs that share one record. */
const CHUNK_JOBS = 100;

/** One time that originals were written. */
export interface OriginalsRun {
  readonly id: string;
  /** Milliseconds since 1970. */
  readonly startedAt: number;
  readonly endedAt: number | null;
  readonly state: Exclude<RunState, 'taking'>;
  /** Why it stopped, when it did. */
  readonly reason: FailureCode | null;
  readonly count: number;
  readonly done: number;
  readonly failed: number;
  /** Files that are again what they were before. */
  readonly undone: number;
  /** The ways back are kept: it was not taken as good. */
  readonly isKept: boolean;
  /** The library has taken up what its files say since. */
  readonly isFollowed: boolean;
}

interface RunList {
  readonly version: number;
  /** The latest first. */
  readonly runs: readonly KeptRun[];
}

/** Version 2 did not count what was taken back, and its run that broke off counted nothing. */
type KeptRun = Omit<OriginalsRun, 'undone'> & Partial<Pick<OriginalsRun, 'undone'>>;
const migrateRun = (run: KeptRun): OriginalsRun => ({
  undone: run.state === 'takenBack' ? run.count - run.done - run.failed : 0,
  ...run,
});

/** How many of a run's files came to what. */
export function totalsOfOutcomes(
  outcomes: readonly (OriginalOutcome | undefined)[],
): Pick<OriginalsRun, 'done' | 'failed' | 'undone'> {
  const count = (type: OriginalOutcome['type']) => outcomes.filter((one) => one?.type === type).length;
  return { done: count('done'), failed: count('failed'), undone: count('undone') };
}

/** Version 1 did not note what stood in a file before: nothing of it can be put back in part. */
type KeptJob = Omit<OriginalJob, 'before'> & Partial<Pick<OriginalJob, 'before'>>;
const migrateJob = (job: KeptJob): OriginalJob => ({ before: {}, ...job });

export interface OriginalsWork {
  readonly jobs: readonly OriginalJob[];
  readonly outcomes: readonly (OriginalOutcome | undefined)[];
}

/** What was written into originals: a list of runs, what each set out to do, and of every file the way back. */
export class OriginalsHistory {
  constructor(private readonly databases: Databases) {}

  async start(run: OriginalsRun, jobs: readonly OriginalJob[]): Promise<void> {
    const store = this.databases.writable('originals');
    for (let at = 0; at < jobs.length; at += CHUNK_JOBS)
      await store.setItem(`${run.id}:jobs:${at / CHUNK_JOBS}`, jobs.slice(at, at + CHUNK_JOBS));
    await this.save(run);
  }

  /** Keeps how a run stands. */
  async save(run: OriginalsRun): Promise<void> {
    const runs = await this.kept();
    const isKnown = runs.some(({ id }) => id === run.id);
    const next = isKnown ? runs.map((one) => (one.id === run.id ? run : one)) : [run, ...runs];
    await this.databases
      .writable('originals')
      .setItem('runs', { version: KEPT.originals.list, runs: next } satisfies RunList);
  }

  async saveOutcome(run: string, index: number, outcome: OriginalOutcome): Promise<void> {
    await this.databases.writable('originals').setItem(`${run}:outcome:${index}`, outcome);
  }

  /** All runs, latest first. One that broke off noted no counts: its outcomes are counted. */
  async list(): Promise<readonly OriginalsRun[]> {
    return Promise.all(
      (await this.kept()).map(async (run) =>
        run.isKept && (run.state === 'running' || run.state === 'takingBack')
          ? { ...run, ...totalsOfOutcomes((await this.load(run)).outcomes) }
          : run,
      ),
    );
  }

  private async kept(): Promise<readonly OriginalsRun[]> {
    const list = await this.databases.readable('originals').getItem<RunList>('runs');
    // Version 1 differs from 2 in its jobs alone, which `load` brings to this version.
    if (list && (list.version < 1 || list.version > KEPT.originals.list))
      throw new RangeError(`version ${list.version} of a list of runs is not known here`);
    return (list?.runs ?? []).map(migrateRun);
  }

  async load({ id, count }: OriginalsRun): Promise<OriginalsWork> {
    const store = this.databases.readable('originals');
    const jobs: OriginalJob[] = [];
    for (let at = 0; at < count; at += CHUNK_JOBS)
      jobs.push(...((await store.getItem<KeptJob[]>(`${id}:jobs:${at / CHUNK_JOBS}`)) ?? []).map(migrateJob));
    const outcomes = await Promise.all(
      jobs.map(
        async (_, index) => (await store.getItem<OriginalOutcome>(`${id}:outcome:${index}`)) ?? undefined,
      ),
    );
    return { jobs, outcomes };
  }

  /** Forgets the ways back of a run; what came of it stays in the list. */
  async takeAsGood(run: OriginalsRun): Promise<void> {
    await this.save({ ...run, isKept: false });
    const store = this.databases.writable('originals');
    for (const key of await store.keys()) if (key.startsWith(`${run.id}:`)) await store.removeItem(key);
  }
}
