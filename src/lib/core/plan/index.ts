export { frontPicture, outgoingFields, toPlanItem } from './plan-item';
export type { OutgoingEdits, OutgoingOf, PlanItem, PlanPicture, Recipe, Unheld } from './plan-item';
export { planRun } from './plan';
export type { Plan, PlanInput, PlannedPath } from './plan';
export { FACTS, leavesOf, makerOf, rehearse } from './showing';
export type { Fact, ShownFacts, ShownNode, Showing, TreeFile, Unplaced, UnplacedCode } from './showing';
export { prove } from './proof';
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
