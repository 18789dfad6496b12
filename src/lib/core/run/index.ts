export { JOURNAL_VERSION, isUnfinished, pastOf, placedAfter, totalsOf } from './journal';
export { migrateJournal } from './migrations/journal';
export type { ComingFile, FailureCode, Journal, Outcome, RunState, RunTotals, Took, Traces } from './journal';
export { StepError } from './effects';
export type { RunEffects, WritingStep } from './effects';
export { applyRun } from './run';
export type { RunEnd } from './run';
export { takeAsGood, takeBack } from './take-back';
export type { TakeBackEffects, TakenBack } from './take-back';
export { StoreError } from './store';
export type { Holding, Store, StoreErrorCode, TargetRoom, WrittenFile } from './store';
export {
  LARGEST_RECORD,
  MOST_RECORDS,
  RECORD_FOLDER,
  keepRecord,
  newestRecords,
  readRecord,
  recordBytes,
} from './place-record';
export type { PlaceRecord } from './place-record';
export { MemoryStore } from './memory-store';
