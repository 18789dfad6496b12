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
    const place = await lookAt(step, known, journal.id, store);
    if ('failed' in place) {
      outcomes[index] = place.failed;
      await effects.save(outcomes, index);
      return end('stopped', place.failed.code);
    }
    outcomes[index] = { type: 'begun', occupied: place.occupied };
    await effects.save(outcomes, index);
    const outcome = await attempt(place.occupied, () => doStep(step, place, failed, store, effects));
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

/** The place of a step: what stood there before, and whether the step was begun already. */
interface StepPlace {
  readonly runId: string;
  readonly again: boolean;
  readonly occupied: boolean;
}

type FailedOutcome = Extract<Outcome, { type: 'failed' }>;

async function lookAt<Content>(
  step: Step,
  known: Outcome | undefined,
  runId: string,
  store: Store<Content>,
): Promise<StepPlace | { readonly failed: FailedOutcome }> {
  if (known && known.type !== 'done') return { runId, again: true, occupied: known.occupied };
  if (step.type === 'makeFolder') return { runId, again: false, occupied: false };
  try {
    return { runId, again: false, occupied: (await store.find(step.path)) !== null };
  } catch (error) {
    if (!(error instanceof StoreError)) throw error;
    return { failed: { type: 'failed', code: error.code, detail: error.message, occupied: false } };
  }
}

async function attempt(occupied: boolean, act: () => Promise<Outcome>): Promise<Outcome> {
  try {
    return await act();
  } catch (error) {
    if (error instanceof StoreError || error instanceof StepError)
      return { type: 'failed', code: error.code, detail: error.message, occupied };
    throw error;
  }
}

async function doStep<Content>(
  step: Step,
  place: StepPlace,
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
      const held = await hold(step.path, place, store);
      if (place.again && !(await store.find(step.from)) && (await store.find(step.path))) return done(held);
      await orRelease(held, step.path, place.runId, store, () => store.move(step.from, step.path));
      await pruneFolders(folderOf(step.from), store);
      return done(held);
    }
    case 'remove': {
      const held = await hold(step.path, place, store);
      await pruneFolders(folderOf(step.path), store);
      return done(held);
    }
    default:
      return write(step, place, failed, store, effects);
  }
}

async function write<Content>(
  step: WritingStep,
  place: StepPlace,
  failed: ReadonlySet<ItemId>,
  store: Store<Content>,
  effects: RunEffects<Content>,
): Promise<Outcome> {
  if (step.type === 'writeSidecar' && failed.has(step.item)) throw new StepError('itemFailed', step.path);
  const content = await effects.content(step);
  const held = await hold(step.path, place, store);
  if (place.again && (await store.find(step.path))) await store.remove(step.path);
  return orRelease(held, step.path, place.runId, store, async () => {
    const written = await store.write(step.path, content);
    try {
      await effects.check(step, await store.read(step.path));
    } catch (error) {
      // A copy that is not right must not stay.
      if (error instanceof StepError) await store.remove(step.path);
      throw error;
    }
    return { type: 'done', ...written, held };
  });
}

/** Does what a place was cleared for. Where it fails, what stood there comes back, unless the place is out of reach. */
async function orRelease<Content, T>(
  held: boolean,
  path: string,
  runId: string,
  store: Store<Content>,
  act: () => Promise<T>,
): Promise<T> {
  try {
    return await act();
  } catch (error) {
    const lost = error instanceof StoreError && STOPPING.has(error.code);
    if (held && !lost) await release(path, runId, store);
    throw error;
  }
}

/**
 * Puts aside what stood at `path` before the step. Done again after a break, it may be aside already,
 * and what stands at the path then is the step's own.
 * @returns whether something is held for this path
 */
async function hold<Content>(
  path: string,
  { runId, again, occupied }: StepPlace,
  store: Store<Content>,
): Promise<boolean> {
  if (!occupied) return false;
  const place = holdPath(runId, path);
  if (again && (await store.find(place))) return true;
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
    if (!step || !outcome || !leftTraces(outcome)) continue;
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

/** A step that failed put everything back itself, unless it lost the place in the middle. */
function leftTraces(outcome: Outcome): boolean {
  return outcome.type !== 'failed' || STOPPING.has(outcome.code);
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
  if (step.type === 'move') await undoMove(step, outcome, store);
  else if (step.type !== 'remove') await unwrite(step.path, outcome, store);
  if (held) await store.move(holdPath(runId, step.path), step.path);
}

async function undoMove<Content>(
  step: Extract<Step, { type: 'move' }>,
  outcome: Outcome,
  store: Store<Content>,
): Promise<void> {
  const moved = (await store.find(step.from)) === null && (await store.find(step.path)) !== null;
  if (moved) await store.move(step.path, step.from);
  else if (outcome.type === 'done') throw new StepError('gone', step.path);
}

async function unwrite<Content>(path: string, outcome: Outcome, store: Store<Content>): Promise<void> {
  const now = await store.find(path);
  if (!now) return;
  if (outcome.type === 'done') {
    const same =
      now.size === outcome.size && (!outcome.digest || !now.digest || now.digest === outcome.digest);
    if (!same) throw new StepError('changedSince', path);
  }
  await store.remove(path);
}

/** Empties what a run held, once it is taken as good. Nothing of it can be taken back afterwards. */
export async function takeAsGood<Content>(journal: Journal, store: Store<Content>): Promise<void> {
  for (const [index, step] of journal.steps.entries()) {
    const outcome = journal.outcomes[index];
    if (outcome?.type === 'done' && outcome.held && (await store.find(holdPath(journal.id, step.path))))
      await store.remove(holdPath(journal.id, step.path));
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
