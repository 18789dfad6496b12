import type { ByteSource } from '../bytes';
import { StepError, StoreError, type RunEnd } from '../run';
import { backOf, changedSource, changeOf } from './change';
import type {
  FileState,
  OriginalEffects,
  OriginalJob,
  OriginalOutcome,
  OriginalPlace,
  OriginalTraces,
} from './originals';

/** Which file lies there: the one before, the changed one, one that a cut left between both, or another hand's. */
type Standing = 'before' | 'changed' | 'between' | 'another';

/**
 * Writes what items say into their originals, one after the other, from where an earlier try ended. Each is proven
 * before a byte of it changes, and the way back is kept first. One that cannot be done is noted and the next one goes
 * on, unless there is no room left: then it stops and can be resumed.
 */
export async function writeOriginals(
  jobs: readonly OriginalJob[],
  known: readonly (OriginalOutcome | undefined)[],
  place: OriginalPlace,
  effects: OriginalEffects,
): Promise<RunEnd> {
  const writing = new Writing(place, effects);
  for (const [index, job] of jobs.entries()) {
    const before = known[index];
    if (before && before.type !== 'begun') continue;
    if (effects.isCancelled()) return { state: 'cancelled', reason: null };
    try {
      await writing.write(index, job, before ?? null);
    } catch (error) {
      if (error instanceof StoreError && error.code === 'full')
        return { state: 'stopped', reason: error.code };
      throw error;
    }
    effects.progress(index + 1);
  }
  return { state: 'finished', reason: null };
}

export interface OriginalsTakenBack {
  readonly undone: number;
  /** Files left as they are, since another hand changed them or they could not be put back. */
  readonly left: readonly { readonly path: string; readonly code: StoreError['code'] | 'changedSince' }[];
}

/**
 * Makes originals what they were, byte for byte, the last one first. A file that was changed since is left alone and
 * told.
 * @throws {StoreError} `full`; what is noted then stands
 */
export async function takeBackOriginals(
  jobs: readonly OriginalJob[],
  outcomes: readonly (OriginalOutcome | undefined)[],
  place: OriginalPlace,
  effects: OriginalEffects,
): Promise<OriginalsTakenBack> {
  const writing = new Writing(place, effects);
  const left: { path: string; code: StoreError['code'] | 'changedSince' }[] = [];
  let undone = 0;
  for (let index = jobs.length - 1; index >= 0; index--) {
    const [job, outcome] = [jobs[index], outcomes[index]];
    if (!job || (outcome?.type !== 'done' && outcome?.type !== 'begun')) continue;
    try {
      await writing.takeBack(job, outcome);
      await effects.save(index, { type: 'undone' });
      undone++;
    } catch (error) {
      if (error instanceof StepError) left.push({ path: job.path, code: 'changedSince' });
      else if (error instanceof StoreError && error.code !== 'full')
        left.push({ path: job.path, code: error.code });
      else throw error;
    }
    effects.progress(undone + left.length);
  }
  return { undone, left };
}

class Writing {
  constructor(
    private readonly place: OriginalPlace,
    private readonly effects: OriginalEffects,
  ) {}

  /** @throws {StoreError} only when the run must stop */
  async write(index: number, job: OriginalJob, begun: OriginalOutcome | null): Promise<void> {
    const { save } = this.effects;
    let traces = begun?.type === 'begun' ? begun : null;
    try {
      if (traces && (await this.isThere(job, traces))) return await save(index, { ...traces, type: 'done' });
      // What a cut left is the file before again by now.
      const isTheOne = traces !== null;
      traces = null;
      const next = await this.prepare(job, isTheOne);
      await save(index, { ...next.traces, type: 'begun' });
      traces = { ...next.traces, type: 'begun' };
      await this.place.write(job, changeOf(next.spans));
      if ((await this.standing(job, traces)) !== 'changed')
        throw new StepError('readBackDiffers', 'came through otherwise');
      await save(index, { ...traces, type: 'done' });
    } catch (error) {
      if (!(error instanceof StepError || error instanceof StoreError)) throw error;
      if (error instanceof StoreError && error.code === 'full') throw error;
      await this.giveUp(index, job, traces, error);
    }
  }

  /** Makes the file what it was before. @throws {StepError} when another hand changed it */
  async takeBack(job: OriginalJob, traces: OriginalTraces): Promise<void> {
    if (isSame(traces.was, traces.put)) return;
    const standing = await this.standing(job, traces);
    if (standing === 'before') return;
    if (standing === 'another') throw new StepError('changedSince', job.path);
    await this.place.write(job, changeOf(traces.back));
    if ((await this.standing(job, traces)) !== 'before')
      throw new StepError('readBackDiffers', 'came back otherwise');
  }

  /** Ends one that cannot be done: the file is what it was, or what it was to be. */
  private async giveUp(
    index: number,
    job: OriginalJob,
    traces: OriginalTraces | null,
    { code, message }: StepError | StoreError,
  ): Promise<void> {
    const failed = { type: 'failed', code, detail: message } as const;
    if (!traces) return this.effects.save(index, failed);
    try {
      const standing = await this.standing(job, traces);
      if (standing === 'changed') return await this.effects.save(index, { ...traces, type: 'done' });
      if (standing === 'between') await this.takeBack(job, traces);
      await this.effects.save(index, failed);
    } catch (error) {
      // It cannot even be looked at: it stays begun, with its way back, until it can.
      if (!(error instanceof StepError || error instanceof StoreError)) throw error;
    }
  }

  /** Works out what is to be written, and the way back, with nothing changed. */
  private async prepare(job: OriginalJob, isTheOne: boolean) {
    const { bytes, modified } = await this.place.open(job);
    if (bytes.size !== job.size || (!isTheOne && modified !== job.modified))
      throw new StepError('changedSince', `${job.path} has changed since it was taken in`);
    const spans = await this.effects.rewrite(job, bytes);
    const changed = changedSource(bytes, spans);
    await this.effects.check(job, bytes, changed);
    const [was, put] = [await this.stateOf(bytes), await this.stateOf(changed)];
    const back = await backOf(bytes, spans);
    const traces: OriginalTraces = { was, put, back, inPlace: changeOf(spans).over !== null };
    return { spans, traces };
  }

  /** Whether what was begun is done; what a cut left is mended first. @throws {StepError} for another hand's file */
  private async isThere(job: OriginalJob, traces: OriginalTraces): Promise<boolean> {
    const standing = await this.standing(job, traces);
    if (standing === 'another') throw new StepError('changedSince', job.path);
    if (standing === 'between') await this.takeBack(job, traces);
    return standing === 'changed';
  }

  private async standing(job: OriginalJob, { was, put, back, inPlace }: OriginalTraces): Promise<Standing> {
    const { bytes } = await this.place.open(job);
    const now = await this.stateOf(bytes);
    if (isSame(now, put)) return 'changed';
    if (isSame(now, was)) return 'before';
    // What was kept lies where it lay: with the old bytes in their places it is the file before, or it is not ours.
    if (inPlace && isSame(await this.stateOf(changedSource(bytes, back)), was)) return 'between';
    return 'another';
  }

  private async stateOf(bytes: ByteSource): Promise<FileState> {
    return { size: bytes.size, digest: await this.effects.digest(bytes) };
  }
}

const isSame = (a: FileState, b: FileState) => a.size === b.size && a.digest === b.digest;
