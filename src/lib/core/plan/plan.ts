import type { ItemId } from '../items';
import type { Rulebook } from '../rulebooks';
import { LivePlan } from './live-plan';
import type { PlanItem } from './plan-item';
import type { Selection } from './selection';
import type { Showing } from './showing';
import type { FailedStep, Finding, PlacedFile, PlayerChoices, Step, SyncPolicy, ThereFile } from './step';

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

/**
 * The run sheet that brings a player up to date, and what the player would then show, all at once. Nothing is
 * written here. Linear in items and in files there.
 */
export function planRun({ items, rulebook, there, token, ...agreed }: PlanInput): Plan {
  const live = new LivePlan(rulebook);
  live.see(there, agreed);
  live.change(items, []);
  return live.whole(token);
}
