export { backOf, changeOf } from './change';
export type { FileChange, WrittenOver } from './change';
export { withTakenBack, withWritten } from './follow';
export type {
  FileState,
  Guard,
  OpenOriginal,
  OriginalEffects,
  OriginalJob,
  OriginalOutcome,
  OriginalPlace,
  OriginalTraces,
} from './originals';
export { jobOf, planOriginal } from './plan';
export type { OriginalPlan, WhyNot } from './plan';
export { partsToPutBack, puttingBack } from './put-back';
export type { PartToPutBack } from './put-back';
export { takeBackOriginals, writeOriginals } from './write';
export type { OriginalsTakenBack } from './write';
