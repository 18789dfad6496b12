import { spanSource, type ByteSource, type Span } from '../bytes';
import { StepError, StoreError, type FailureCode, type RunEnd } from '../run';
import { backOf, changeOf } from './change';
import type {
  FileState,
  Guard,
  OpenOriginal,
  OriginalEffects,
  OriginalJob,
  OriginalOutcome,
  OriginalPlace,
  OriginalTraces,
} from './originals';

/** Which version of the file exists: the one before, the changed one, or another one. */
type Standing = 'before' | 'changed' | 'another';

/**
 * Writes the descriptions of items into their originals, one after the other, continuing after the last recorded
 * outcome. Each is checked before a byte of it changes, and the way back is saved first. A failure is recorded and the
 * next one follows, except when there is no space left: then it stops and can be resumed.
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
  /** Files left as they are, since they were changed after the run or could not be put back. */
  readonly left: readonly { readonly path: string; readonly code: FailureCode }[];
}

/**
 * Restores originals byte for byte, the last one first. A file that was changed since then is left alone and reported;
 * `partsToPutBack` tells which parts of it can be restored.
 * @throws {StoreError} `full`; the recorded outcomes then stand
 */
export async function takeBackOriginals(
  jobs: readonly OriginalJob[],
  outcomes: readonly (OriginalOutcome | undefined)[],
  place: OriginalPlace,
  effects: OriginalEffects,
): Promise<OriginalsTakenBack> {
  const writing = new Writing(place, effects);
  const left: { path: string; code: FailureCode }[] = [];
  let undone = 0;
  for (let index = jobs.length - 1; index >= 0; index--) {
    const [job, outcome] = [jobs[index], outcomes[index]];
    if (!job || (outcome?.type !== 'done' && outcome?.type !== 'begun')) continue;
    try {
      await writing.takeBack(job, outcome);
      await effects.save(index, { type: 'undone' });
      undone++;
    } catch (error) {
      if (!(error instanceof StepError || error instanceof StoreError) || error.code === 'full') throw error;
      left.push({ path: job.path, code: error.code });
      await effects.save(index, { ...outcome, left: error.code });
    }
    effects.progress(undone + left.length);
  }
  return { undone, left };
}

/** What will be written, and the file that it was made from. */
interface Prepared {
  readonly spans: readonly Span[];
  readonly traces: OriginalTraces;
  readonly guard: Guard;
}

/** Bytes of an original that a change may leave out: they are kept until it is taken as good. */
const MOST_GONE = 64 * 1024 * 1024;

const keptLength = (spans: readonly Span[]): number =>
  spans.reduce((sum, span) => sum + (span.type === 'kept' ? span.end - span.start : 0), 0);

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
      const isTheOne = traces !== null;
      traces = null;
      const next = await this.prepare(job, isTheOne);
      await save(index, { ...next.traces, type: 'begun' });
      traces = { ...next.traces, type: 'begun' };
      await this.place.write(job, changeOf(next.spans), next.guard);
      if ((await this.look(job, traces)).standing !== 'changed')
        throw new StepError('readBackDiffers', 'came through otherwise');
      await save(index, { ...traces, type: 'done' });
    } catch (error) {
      if (!(error instanceof StepError || error instanceof StoreError)) throw error;
      if (error instanceof StoreError && error.code === 'full') throw error;
      await this.giveUp(index, job, traces, error);
    }
  }

  /** Restores the file. @throws {StepError} if it was changed by somebody else */
  async takeBack(job: OriginalJob, traces: OriginalTraces): Promise<void> {
    if (isSame(traces.was, traces.put)) return;
    const { standing, seen } = await this.look(job, traces);
    if (standing === 'before') return;
    if (standing === 'another') throw new StepError('changedSince', job.path);
    const guard = await guardOf(job, seen, traces.back);
    await this.place.write(job, changeOf(traces.back), guard);
    if ((await this.look(job, traces)).standing !== 'before')
      throw new StepError('readBackDiffers', 'came back otherwise');
  }

  /** Ends a write that failed: the file is either as it was or as it was to become. */
  private async giveUp(
    index: number,
    job: OriginalJob,
    traces: OriginalTraces | null,
    { code, message }: StepError | StoreError,
  ): Promise<void> {
    const failed = { type: 'failed', code, detail: message } as const;
    if (!traces) return this.effects.save(index, failed);
    try {
      const { standing } = await this.look(job, traces);
      if (standing === 'changed') return await this.effects.save(index, { ...traces, type: 'done' });
      await this.effects.save(index, failed);
    } catch (error) {
      // It cannot even be looked at: it stays begun, with its way back, until it can.
      if (!(error instanceof StepError || error instanceof StoreError)) throw error;
    }
  }

  /** Prepares the write and the way back, without changing anything. */
  private async prepare(job: OriginalJob, isTheOne: boolean): Promise<Prepared> {
    const seen = await this.place.open(job);
    const { bytes, modified } = seen;
    if (bytes.size !== job.size || (!isTheOne && modified !== job.modified))
      throw new StepError('changedSince', `${job.path} has changed since it was taken in`);
    const spans = await this.effects.rewrite(job, bytes);
    const gone = bytes.size - keptLength(spans);
    if (gone > MOST_GONE)
      throw new StepError(
        'cannotRewrite',
        `${Math.round(gone / 1e6)} MB would be left out of ${job.path}, too much to keep for taking it back: let a copy go without them instead`,
      );
    const changed = spanSource(bytes, spans);
    await this.effects.check(job, bytes, changed);
    const [was, put] = [await this.stateOf(bytes), await this.stateOf(changed)];
    const back = await backOf(bytes, spans);
    return { spans, traces: { was, put, back }, guard: await guardOf(job, seen, spans, back) };
  }

  /** Whether a write that had begun was completed. @throws {StepError} if the file was changed by somebody else */
  private async isThere(job: OriginalJob, traces: OriginalTraces): Promise<boolean> {
    const { standing } = await this.look(job, traces);
    if (standing === 'another') throw new StepError('changedSince', job.path);
    return standing === 'changed';
  }

  private async look(job: OriginalJob, { was, put }: OriginalTraces) {
    const seen = await this.place.open(job);
    const now = await this.stateOf(seen.bytes);
    const known: Standing = isSame(now, was) ? 'before' : 'another';
    const standing: Standing = isSame(now, put) ? 'changed' : known;
    return { standing, seen };
  }

  private async stateOf(bytes: ByteSource): Promise<FileState> {
    return { size: bytes.size, digest: await this.effects.digest(bytes) };
  }
}

/**
 * Checks that a file is still the one that a change was made from. Some programs keep the old modification time, so
 * bytes that the change would replace are compared too.
 */
async function guardOf(
  { path }: OriginalJob,
  { bytes, modified }: OpenOriginal,
  spans: readonly Span[],
  dropped?: readonly Span[],
): Promise<Guard> {
  const held = dropped ?? (await backOf(bytes, spans));
  return async (now) => {
    const isOther = now.bytes.size !== bytes.size || now.modified !== modified;
    if (isOther || !isSameBack(await backOf(now.bytes, spans), held))
      throw new StepError('changedSince', `${path} was changed while it was being written`);
  };
}

function isSameBack(a: readonly Span[], b: readonly Span[]): boolean {
  return (
    a.length === b.length &&
    a.every((span, index) => {
      const other = b[index];
      if (span.type !== 'new' || other?.type !== 'new') return span.type === other?.type;
      return (
        span.bytes.length === other.bytes.length && span.bytes.every((byte, at) => byte === other.bytes[at])
      );
    })
  );
}

const isSame = (a: FileState, b: FileState) => a.size === b.size && a.digest === b.digest;
