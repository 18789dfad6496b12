import type { ItemId } from '../items';
import type { Rulebook } from '../rulebooks';
import type { PlanItem } from './outgoing/plan-item';
import type { Selection } from './selection';
import type { Showing } from './shown/showing';
import type { FailedStep, Step } from './step';
import type { Finding } from './findings/finding';
import type { PlacedFile, ThereFile } from './there/files';
import type { PlayerChoices } from './choices';
import type { SyncPolicy } from './there/sides';

export interface PlanInput {
  readonly items: readonly PlanItem[];
  readonly rulebook: Rulebook;
  /** What the player lists now. */
  readonly there: readonly ThereFile[];
  /** What earlier runs put there. */
  readonly placed: readonly PlacedFile[];
  readonly choices: PlayerChoices;
  readonly policy: SyncPolicy;
  /** Which items it is to have: all unless told. */
  readonly selection?: Selection;
  /** Bytes that may be written to it; not known unless told. */
  readonly free?: number | null;
  /** Steps of the last run that failed. */
  readonly failed?: readonly FailedStep[];
  /** A name that no other run has: files that wait for each other's names pass through a folder of it. */
  readonly token: string;
}

export interface PlannedPath {
  readonly item: ItemId;
  readonly from: string;
  readonly path: string;
}

export interface Plan {
  readonly steps: readonly Step[];
  readonly findings: readonly Finding[];
  /** What the player would show after the run. */
  readonly showing: Showing;
  readonly paths: readonly PlannedPath[];
  /** Items that a blocking finding keeps back. */
  readonly held: readonly ItemId[];
  /** Planned files that are on the player already, just as planned. */
  readonly current: number;
  /** Files on the player that no run of ours put there. */
  readonly foreign: number;
}
