export { editedPlanItem, frontPicture, toPlanItem, toldKindOf } from './plan-item';
export type {
  OutgoingEdits,
  OutgoingItem,
  OutgoingOf,
  PlanItem,
  PlanPicture,
  Recipe,
  Unheld,
} from './plan-item';
export type { HeldBy, PlanAbout, PlanDigest, Some } from './digest';
export type { FindingLine } from './findings';
export type { TopFolderPicture } from './folder-pictures';
export { provenRemedy } from './permission';
export type { Permission } from './permission';
export { driftingOf, leftAt, sameInTags } from './drift';
export type { SidesOf } from './drift';
export { inAFewWords } from './apart';
export type { Told } from './apart';
export { shelvedKinds } from './binding';
export { editionMark } from './edition';
export { copySignature } from './entry';
export { LivePlan } from './live-plan';
export { mildSteps } from './mild';
export type { Coming, ItemOfFinding, Unclaimed } from './live-plan';
export type { Agreed } from './there';
export { planRun } from './plan';
export type { Plan, PlanInput, PlannedPath } from './plan';
export type { KindRoom } from './room-by-kind';
export { FIRST_OF_KIND, SELECT_ALL, selectionTest } from './selection';
export type { FirstOfKind, Selection } from './selection';
export type { Shelf } from './shelves';
export { FACTS } from './showing';
export type { Fact, ShownFacts, ShownNode, Showing, TreeFile, Unplaced, UnplacedCode } from './showing';
export { prove } from './proof';
export type { Difference, PlayerScan, Proof } from './proof';
export { HOLD_FOLDER, NO_CHOICES, SEVERITIES, STEP_TYPES, SYNC_POLICIES, WAYS_APART, mayBe } from './step';
export { pastKey } from './step';
export type {
  FailedStep,
  FileFacts,
  Finding,
  FindingCode,
  PastFile,
  PlacedFile,
  PlayerChoices,
  Remedy,
  Severity,
  Step,
  Side,
  SideChoice,
  StepType,
  SyncPolicy,
  ThereFile,
  WayApart,
} from './step';
