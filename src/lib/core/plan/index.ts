export { NO_CHOICES, WAYS_APART } from './choices';
export type { PlayerChoices, WayApart } from './choices';
export type { PlanAbout, PlanDigest, Some } from './digest';
export type { HeldBy } from './entry';
export { copySignature } from './outgoing/item-plan';
export { ownedFile, ownedStep } from './migrations/owners';
export { groupOf, isSameOwner, itemOf, ofItem } from './owner';
export type { Owner } from './owner';
export type { PictureLimits, Recipe, Retagging, SmallerPictures } from './outgoing/recipe';
export { SEVERITIES } from './findings/finding';
export type { Finding, FindingCode, Remedy, Severity } from './findings/finding';
export type { FindingLine } from './findings/findings';
export type { ListChange } from './lists/list-drift';
export type { ListState } from './lists/list-files';
export type { LeftOutWhy, ToldList } from './lists/told-list';
export { LivePlan } from './live-plan';
export type { Incoming, ItemOfFinding, Unclaimed } from './live-plan';
export { inAFewWords } from './outgoing/apart';
export type { Told } from './outgoing/apart';
export { editionMark } from './outgoing/edition';
export { editedPlanItem, toPlanItem, toldKindOf, unheldBy, withTwins } from './outgoing/plan-item';
export type {
  OutgoingEdits,
  OutgoingItem,
  OutgoingOf,
  OwnPicture,
  PlanItem,
  Unheld,
} from './outgoing/plan-item';
export { planRun } from './plan-run';
export type { Plan, PlanInput, PlannedPath } from './plan';
export { FIRST_OF_KIND, SELECT_ALL, selectionTest, selectionTestBy } from './selection';
export type { FirstOfKind, Selection } from './selection';
export { shelvedKinds } from './shown/binding';
export { prove } from './shown/proof';
export type { Difference, PlayerScan, Proof } from './shown/proof';
export { readSidecar } from './shown/sidecar';
export type { ShownList } from './shown/shown-lists';
export type { ShownShelf } from './shown/shelves';
export { FACTS } from './shown/showing';
export type { Fact, ShownFacts, ShownNode, Showing, TreeFile, Unplaced, UnplacedCode } from './shown/showing';
export { STEP_TYPES } from './step';
export type { FailedStep, Step, StepType } from './step';
export type { TopFolderPicture } from './steps/folder-pictures';
export { mildSteps } from './steps/mild';
export type { KindRoom } from './steps/room-by-kind';
export { driftingOf, leftAt } from './there/drift';
export type { EntrySides, SidesOf } from './there/drift';
export { HOLD_FOLDER, mayBe, pastKey } from './there/files';
export type { FileFacts, PastFile, PlacedFile, ThereFile } from './there/files';
export { provenRemedy } from './findings/proven-remedy';
export type { Permission } from './there/permission';
export { SYNC_POLICIES } from './there/sides';
export type { Side, SideChoice, SyncPolicy } from './there/sides';
export type { Agreed } from './there/there';
