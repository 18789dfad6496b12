import type { ByteSource } from '../bytes';
import { folderOf, type ItemId } from '../items';
import type { Step } from '../plan';
import type { FailureCode, Journal, Outcome } from './journal';
import { HOLD_FOLDER, StoreError, holdPath, type Store } from './store';

/** A step that cannot be done for a reason outside the store; the rest of the run goes on. */
export class StepError extends Error {
  override readonly name = 'StepError';
  constructor(
    readonly code: FailureCode,
    detail: string,
  ) {
    super(detail);
  }
}

export type WritingStep = Extract<Step, { type: 'copy' | 'writePicture' | 'writeSidecar' }>;

/** What a run needs of the world beside the store. */
export interface RunEffects<Content> {
  /** The bytes that a step puts there. @throws {StepError} when they cannot be made */
  content(step: WritingStep): Promise<Content>;
  /** Reads back what was written. @throws {StepError} when it does not say what it should */
  check(step: WritingStep, written: ByteSource): Promise<void>;
  /** Keeps the journal; a step begins only after this resolved. */
  save(outcomes: readonly Outcome[], changedFrom: number): Promise<void>;
  /** Called after every step with how many have ended. */
  progress(ended: number): void;
  isCancelled(): boolean;
}

export type RunEnd = {
  readonly state: 'finished' | 'cancelled' | 'stopped';
  readonly reason: FailureCode | null;
};

const STOPPING: ReadonlySet<FailureCode> = new Set(['unreachable', 'full', 'notAllowed']);

/**
 * Applies a run sheet step by step, from where its journal ends. A step that fails is noted and the
 * next one goes on, unless the whole place is out of reach or full: then the run stops and can be resumed.
 */
export async function applyRun<Content>(
  journal: Journal,
  store: Store<Content>,
  effects: RunEffects<Content>,
): Promise<RunEnd & { readonly outcomes: readonly Outcome[] }> {
  const outcomes: Outcome[] = [...journal.outcomes];
  const failed = new Set<ItemId>();
  journal.steps.forEach((step, index) => {
    if (step.type === 'copy' && outcomes[index]?.type === 'failed') failed.add(step.item);
  });
  const end = (state: RunEnd['state'], reason: FailureCode | null = null) => ({ state, reason, outcomes });
  for (let index = 0; index < journal.steps.length; index++) {
    const known = outcomes[index];
    if (known && known.type !== 'begun' && !(known.type === 'failed' && STOPPING.has(known.code))) continue;
    if (effects.isCancelled()) return end('cancelled');
    const step = journal.steps[index] as Step;
    outcomes[index] = { type: 'begun' };
    await effects.save(outcomes, index);
    const again = known !== undefined;
    const outcome = await attempt(() => doStep(step, journal.id, again, failed, store, effects));
    outcomes[index] = outcome;
    await effects.save(outcomes, index);
    if (outcome.type === 'failed') {
      if (step.type === 'copy') failed.add(step.item);
      if (STOPPING.has(outcome.code)) return end('stopped', outcome.code);
    }
    effects.progress(index + 1);
  }
  return end('finished');
}

async function attempt(act: () => Promise<Outcome>): Promise<Outcome> {
  try {
    return await act();
  } catch (error) {
    if (error instanceof StoreError || error instanceof StepError)
      return { type: 'failed', code: error.code, detail: error.message };
    throw error;
  }
}

async function doStep<Content>(
  step: Step,
  runId: string,
  again: boolean,
  failed: ReadonlySet<ItemId>,
  store: Store<Content>,
  effects: RunEffects<Content>,
): Promise<Outcome> {
  const done = (held: boolean): Outcome => ({ type: 'done', size: 0, digest: null, held });
  switch (step.type) {
    case 'makeFolder':
      await store.makeFolder(step.path);
      return done(false);
    case 'move': {
      if (again && !(await store.find(step.from)) && (await store.find(step.path))) return done(false);
      const held = await hold(step.path, runId, again, store);
      await store.move(step.from, step.path);
      await pruneFolders(folderOf(step.from), store);
      return done(held);
    }
    case 'remove': {
      const held = await hold(step.path, runId, again, store);
      await pruneFolders(folderOf(step.path), store);
      return done(held);
    }
    default:
      return write(step, runId, again, failed, store, effects);
  }
}

async function write<Content>(
  step: WritingStep,
  runId: string,
  again: boolean,
  failed: ReadonlySet<ItemId>,
  store: Store<Content>,
  effects: RunEffects<Content>,
): Promise<Outcome> {
  if (step.type === 'writeSidecar' && failed.has(step.item)) throw new StepError('itemFailed', step.path);
  const content = await effects.content(step);
  const held = await hold(step.path, runId, again, store);
  try {
    const written = await store.write(step.path, content);
    await effects.check(step, await store.read(step.path));
    return { type: 'done', ...written, held };
  } catch (error) {
    // A copy that is not right must not stay, and what stood there comes back.
    if (error instanceof StepError) await store.remove(step.path);
    if (held && !(error instanceof StoreError && STOPPING.has(error.code)))
      await release(step.path, runId, store);
    throw error;
  }
}

/**
 * Puts what stands at `path` aside. When a step is done again after a break, what stands there may be
 * its own half-done work: then the older file is in the hold already, and the newer goes.
 * @returns whether something is held for this path
 */
async function hold<Content>(
  path: string,
  runId: string,
  again: boolean,
  store: Store<Content>,
): Promise<boolean> {
  const place = holdPath(runId, path);
  const isHeld = again && (await store.find(place)) !== null;
  if ((await store.find(path)) === null) return isHeld;
  if (isHeld) {
    await store.remove(path);
    return true;
  }
  await store.move(path, place);
  return true;
}

async function release<Content>(path: string, runId: string, store: Store<Content>): Promise<void> {
  if ((await store.find(path)) === null) await store.move(holdPath(runId, path), path);
}

/** Removes a folder and those above it as far as they are empty. */
async function pruneFolders<Content>(folder: string, store: Store<Content>): Promise<void> {
  for (let at = folder; at !== ''; at = folderOf(at)) await store.removeEmptyFolder(at);
}

export interface TakenBack {
  /** Steps undone. */
  readonly undone: number;
  /** Files left as they are, since they were changed after the run or could not be put back. */
  readonly left: readonly { readonly path: string; readonly code: FailureCode }[];
}

/**
 * Takes a run back, last step first: what it made goes, what it replaced, moved or removed returns.
 * A file that was changed since is left alone and told.
 */
export async function takeBack<Content>(
  journal: Journal,
  store: Store<Content>,
  progress: (undone: number) => void,
): Promise<TakenBack> {
  const left: { path: string; code: FailureCode }[] = [];
  let undone = 0;
  for (let index = journal.outcomes.length - 1; index >= 0; index--) {
    const outcome = journal.outcomes[index];
    const step = journal.steps[index];
    if (!step || !outcome || outcome.type === 'failed') continue;
    try {
      await undoStep(step, outcome, journal.id, store);
      undone++;
    } catch (error) {
      if (!(error instanceof StoreError || error instanceof StepError)) throw error;
      if (error.code === 'unreachable') throw error;
      left.push({ path: step.path, code: error.code });
    }
    progress(undone);
  }
  await pruneHold(journal, store);
  return { undone, left };
}

async function undoStep<Content>(
  step: Step,
  outcome: Outcome,
  runId: string,
  store: Store<Content>,
): Promise<void> {
  if (step.type === 'makeFolder') return store.removeEmptyFolder(step.path);
  const held =
    outcome.type === 'done' ? outcome.held : (await store.find(holdPath(runId, step.path))) !== null;
  if (step.type === 'move') await undoMove(step, store);
  else if (step.type !== 'remove') await unwrite(step.path, outcome, held, store);
  if (held) await store.move(holdPath(runId, step.path), step.path);
}

async function undoMove<Content>(
  step: Extract<Step, { type: 'move' }>,
  store: Store<Content>,
): Promise<void> {
  if ((await store.find(step.path)) === null) throw new StepError('gone', step.path);
  await store.move(step.path, step.from);
}

async function unwrite<Content>(
  path: string,
  outcome: Outcome,
  held: boolean,
  store: Store<Content>,
): Promise<void> {
  const now = await store.find(path);
  if (!now) return;
  if (outcome.type === 'done') {
    const same =
      now.size === outcome.size && (!outcome.digest || !now.digest || now.digest === outcome.digest);
    if (!same) throw new StepError('changedSince', path);
  } else if (!held) {
    // The step broke off: the place was free before, so what lies there is the step's own.
    return store.remove(path);
  }
  await store.remove(path);
}

/** Empties what a run held, once it is taken as good. Nothing of it can be taken back afterwards. */
export async function takeAsGood<Content>(journal: Journal, store: Store<Content>): Promise<void> {
  for (const [index, step] of journal.steps.entries()) {
    const outcome = journal.outcomes[index];
    if (outcome?.type === 'done' && outcome.held) await store.remove(holdPath(journal.id, step.path));
  }
  await pruneHold(journal, store);
}

async function pruneHold<Content>(journal: Journal, store: Store<Content>): Promise<void> {
  const folders = new Set<string>();
  for (const { path } of journal.steps)
    for (let at = folderOf(holdPath(journal.id, path)); at !== HOLD_FOLDER && at !== ''; at = folderOf(at))
      folders.add(at);
  const deepestFirst = [...folders].sort((a, b) => b.length - a.length);
  for (const folder of deepestFirst) await store.removeEmptyFolder(folder);
  await store.removeEmptyFolder(HOLD_FOLDER);
}
