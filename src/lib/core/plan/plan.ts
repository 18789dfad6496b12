import type { ItemId } from '../items';
import type { Rulebook } from '../rulebooks';
import type { PlayerList } from '../lists';
import type { PlanItem } from './outgoing/plan-item';
import type { Showing } from './shown/showing';
import type { Step } from './step';
import type { Finding } from './findings/finding';
import type { ThereFile } from './there/files';
import type { Agreed } from './there/there';

export interface PlanInput extends Agreed {
  readonly items: readonly PlanItem[];
  readonly rulebook: Rulebook;
  /** The player's lists; none if absent. */
  readonly lists?: readonly PlayerList[];
  /** The files that the player lists now. */
  readonly there: readonly ThereFile[];
  /** A name that is unique to the run: files that exchange names pass through a folder of this name. */
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
  /** Items that a blocking finding holds back. */
  readonly held: readonly ItemId[];
  /** Planned files that are already on the player. */
  readonly current: number;
  /** Files on the player that no run of ours wrote. */
  readonly foreign: number;
}
