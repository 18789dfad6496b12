import type { PlacedFile, Step } from '../plan';
import type { StoreErrorCode } from './store';

export const JOURNAL_VERSION = 1;

export type FailureCode =
  StoreErrorCode | 'unreadable' | 'cannotRewrite' | 'readBackDiffers' | 'itemFailed' | 'changedSince';

/**
 * How one step ended. `begun` means that the application stopped while it was under way. `occupied`
 * tells whether something stood at the step's path before: only so can a broken step's own work be
 * told from what it was to replace.
 */
export type Outcome =
  | { readonly type: 'begun'; readonly occupied: boolean }
  | {
      readonly type: 'done';
      readonly size: number;
      readonly digest: string | null;
      /** Something stood at the path before and is held. */
      readonly held: boolean;
    }
  | {
      readonly type: 'failed';
      readonly code: FailureCode;
      readonly detail: string;
      readonly occupied: boolean;
    };

export type RunState = 'running' | 'cancelled' | 'stopped' | 'finished' | 'takenBack';

/** What a run set out to do and what came of it, step by step. */
export interface Journal {
  readonly version: number;
  readonly id: string;
  /** Milliseconds since 1970. */
  readonly startedAt: number;
  readonly endedAt: number | null;
  readonly state: RunState;
  /** Why it stopped, when it did. */
  readonly reason: FailureCode | null;
  readonly steps: readonly Step[];
  /** One for each step begun, in order. */
  readonly outcomes: readonly Outcome[];
  /** What lay on the player by our hand before the run. */
  readonly placedBefore: readonly PlacedFile[];
}

export interface RunTotals {
  readonly done: number;
  readonly failed: number;
  readonly left: number;
}

/** Counts of a journal's steps by how they ended. */
export function totalsOf({ steps, outcomes }: Pick<Journal, 'steps' | 'outcomes'>): RunTotals {
  const done = outcomes.filter(({ type }) => type === 'done').length;
  const failed = outcomes.filter(({ type }) => type === 'failed').length;
  return { done, failed, left: steps.length - done - failed };
}

/** What lies on the player by our hand after a run. */
export function placedAfter({ placedBefore, steps, outcomes }: Journal): readonly PlacedFile[] {
  const placed = new Map(placedBefore.map((file) => [file.path, file]));
  steps.forEach((step, index) => {
    const outcome = outcomes[index];
    if (outcome?.type !== 'done') return;
    if (step.type === 'remove') placed.delete(step.path);
    else if (step.type === 'move') {
      const file = placed.get(step.from);
      placed.delete(step.from);
      if (file) placed.set(step.path, { ...file, path: step.path });
    } else if (step.type !== 'makeFolder') {
      const { path, item, signature } = step;
      placed.set(path, { path, item, signature, size: outcome.size, digest: outcome.digest });
    }
  });
  return [...placed.values()];
}
