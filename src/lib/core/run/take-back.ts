import type { FileFacts, Step } from '../plan';
import { STOPPING, StepError, isTheOne, pruneFolders, type DigestOf, type SaveOutcomes } from './effects';
import { holdingOf } from './hold';
import type { FailureCode, Journal, Outcome, Traces } from './journal';
import { StoreError, type Holding, type Store } from './store';

export interface TakenBack {
  /** Steps undone. */
  readonly undone: number;
  /** Files left as they are, since they were changed after the run or could not be put back. */
  readonly left: readonly { readonly path: string; readonly code: FailureCode }[];
}

export interface TakeBackEffects {
  readonly digest: DigestOf;
  readonly save: SaveOutcomes;
  progress(undone: number): void;
}

type Standing = Extract<Outcome, { type: 'begun' | 'done' }>;

/**
 * Takes a run back, last step first: what it wrote is removed, and what it replaced, moved or removed returns. A file
 * that was changed since is left alone and reported. Each step is recorded, so that an interrupted take-back can be
 * continued.
 * @throws {StoreError} if the place is unreachable; the recorded outcomes then stand
 */
export async function takeBack<Content>(
  journal: Journal,
  store: Store<Content>,
  effects: TakeBackEffects,
): Promise<TakenBack> {
  const outcomes = [...journal.outcomes];
  const left: { path: string; code: FailureCode }[] = [];
  const undoing = new Undoing(journal.id, store, effects.digest);
  let undone = 0;
  for (let index = outcomes.length - 1; index >= 0; index--) {
    const outcome = outcomes[index];
    const step = journal.steps[index];
    if (!step || !outcome || outcome.type === 'undone') continue;
    try {
      await undoing.undo(step, outcome);
      outcomes[index] = { type: 'undone' };
      await effects.save(outcomes, index);
      if (outcome.type !== 'failed') undone++;
    } catch (error) {
      if (!(error instanceof StoreError || error instanceof StepError)) throw error;
      if (STOPPING.has(error.code)) throw error;
      left.push({ path: step.path, code: error.code });
    }
    effects.progress(undone);
  }
  await undoing.sweep(journal);
  return { undone, left };
}

class Undoing<Content> {
  private readonly holding: Holding;

  constructor(
    private readonly runId: string,
    private readonly store: Store<Content>,
    private readonly digest: DigestOf,
  ) {
    this.holding = holdingOf(store);
  }

  async undo(step: Step, outcome: Exclude<Outcome, { type: 'undone' }>): Promise<void> {
    if (outcome.type === 'failed') return this.release(outcome.hold, step.path);
    switch (step.type) {
      case 'agree':
      case 'makeFolder':
        break;
      case 'move':
        await this.undoMove(step, outcome);
        break;
      case 'remove':
        await this.undoRemove(step.path, outcome);
        break;
      default:
        await this.undoWrite(step.path, outcome);
    }
    const { cleared } = outcome;
    if (cleared && !(await this.store.find(cleared))) await this.store.makeFolder(cleared);
    await pruneFolders([...outcome.made].reverse(), this.store);
    // An interrupted step may have left its hold folder, which an undone step no longer names.
    if (outcome.was) await this.holding.release(outcome.hold);
  }

  /** Removes what an interrupted step left in the run's own folder, and that folder. */
  async sweep({ steps, outcomes }: Journal): Promise<void> {
    const next = steps[outcomes.length];
    const stage = next && this.holding.stage(this.runId, next.path);
    if (stage && (await this.store.find(stage))) await this.store.remove(stage);
    const held = outcomes.flatMap((outcome) => ('hold' in outcome && outcome.hold ? [outcome.hold] : []));
    await this.holding.clear(this.runId, held);
  }

  private async undoWrite(path: string, outcome: Standing): Promise<void> {
    const stage = this.holding.stage(this.runId, path);
    if (outcome.type === 'begun' && (await this.store.find(stage))) {
      await this.release(outcome.was && outcome.hold, path);
      await this.store.remove(stage);
      return;
    }
    const found = await this.store.find(path);
    if (outcome.was && !(await this.store.find(outcome.hold))) {
      // It returned already, or was never held.
      if (outcome.type === 'begun' || (found && (await this.isTheOne(found, outcome.was)))) return;
      throw new StepError('gone', path);
    }
    if (found) {
      if (!outcome.put || !(await this.isTheOne(found, outcome.put))) {
        // A begun step without its file may have been ended before: then nothing of it is at the path.
        if (outcome.type === 'begun' && !outcome.was) return;
        throw new StepError('changedSince', path);
      }
      await this.store.remove(path);
    }
    await this.release(outcome.was && outcome.hold, path);
  }

  private async undoMove(step: Extract<Step, { type: 'move' }>, outcome: Standing): Promise<void> {
    const { put, was, hold } = outcome;
    const [from, found] = [await this.store.find(step.from), await this.store.find(step.path)];
    if (!from) {
      if (!found) throw new StepError('gone', step.path);
      if (put && !(await this.isTheOne(found, put))) throw new StepError('changedSince', step.path);
      await this.store.move(step.path, step.from);
    } else if (outcome.type === 'done' && found && !was && put && (await this.isTheOne(found, put)))
      // Another file took the name that it had.
      throw new StepError('exists', step.from);
    await this.release(was && hold, step.path);
  }

  private async undoRemove(path: string, { was, hold }: Standing): Promise<void> {
    if (!was) return;
    if (await this.store.find(hold)) return this.release(hold, path);
    const found = await this.store.find(path);
    if (!found || !(await this.isTheOne(found, was))) throw new StepError('gone', path);
  }

  /** Puts a held file back, if it exists. */
  private async release(hold: string | null, path: string): Promise<void> {
    if (!hold || !(await this.store.find(hold))) return;
    await this.store.move(hold, path);
    await this.holding.release(hold);
  }

  private isTheOne(found: Parameters<typeof isTheOne>[0], meant: FileFacts): Promise<boolean> {
    return isTheOne(found, meant, this.store, this.digest);
  }
}

/**
 * Deletes what a run holds, once the run is accepted. It can then no longer be taken back.
 * @throws {RangeError} for an unfinished run: nothing has replaced yet what it holds
 */
export async function takeAsGood<Content>(journal: Journal, store: Store<Content>): Promise<void> {
  const standing = journal.outcomes.filter(
    (outcome): outcome is Extract<Outcome, { type: 'done' | 'failed' }> => {
      if (outcome.type === 'begun') throw new RangeError('the run is unfinished');
      return outcome.type !== 'undone';
    },
  );
  const held = standing.flatMap((outcome) => heldBy(outcome));
  for (const hold of held) if (await store.find(hold)) await store.remove(hold);
  await holdingOf(store).clear(journal.id, held);
}

const heldBy = (outcome: (Traces & { type: 'done' }) | Extract<Outcome, { type: 'failed' }>) =>
  outcome.hold && (outcome.type === 'failed' || outcome.was) ? [outcome.hold] : [];
