export { JOURNAL_VERSION, placedAfter, totalsOf } from './journal';
export type { FailureCode, Journal, Outcome, RunState, RunTotals } from './journal';
export { StepError, applyRun, takeAsGood, takeBack } from './run';
export type { RunEffects, RunEnd, TakenBack, WritingStep } from './run';
export { HOLD_FOLDER, StoreError, holdPath } from './store';
export type { Store, StoreErrorCode, WrittenFile } from './store';
export { MemoryStore } from './memory-store';
