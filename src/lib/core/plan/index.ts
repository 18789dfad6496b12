export { frontPicture, outgoingFields, toPlanItem } from './plan-item';
export type { OutgoingEdits, OutgoingOf, PlanItem, PlanPicture, Unheld } from './plan-item';
export { planRun } from './plan';
export type { Plan, PlanInput, PlannedPath } from './plan';
export { makerOf, rehearse } from './rehearsal';
export type { Shelf, ShownItem, Showing, TreeFile, Unplaced, UnplacedCode } from './rehearsal';
export { prove, scanSchema } from './proof';
export type { Difference, PlayerScan, Proof } from './proof';
export { readSidecar, runtimeMinutes, writeSidecar } from './sidecar';
export { HOLD_FOLDER, NO_CHOICES, SEVERITIES, STEP_TYPES, mayBe } from './step';
export type {
  FileFacts,
  Finding,
  FindingCode,
  PlacedFile,
  PlayerChoices,
  Remedy,
  Severity,
  Step,
  StepType,
  ThereFile,
} from './step';
