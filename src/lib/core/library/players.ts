import {
  NO_CHOICES,
  SELECT_ALL,
  type PlacedFile,
  type PlayerChoices,
  type Selection,
  type SyncPolicy,
} from '../plan';
import type { Rulebook } from '../rulebooks';
import type { RecipeId } from '../twins';
import { TARGET_TYPES, type TargetType } from './places';

export type { Selection } from '../plan';

export type PlayerId = string & { readonly __brand: 'PlayerId' };
export type TargetId = string & { readonly __brand: 'TargetId' };

/** Where runs for a player write, with decisions beyond the player's rulebook. */
export interface Target {
  readonly id: TargetId;
  readonly type: TargetType;
  readonly choices: PlayerChoices;
}

/** A rulebook with places to write to. */
export interface Player {
  readonly id: PlayerId;
  /** The name that the curator gave it; null for the name in its rulebook. */
  readonly name: string | null;
  /** Id of its rulebook among those that come with the application. */
  readonly rulebook: string;
  /** Its own rulebook, if the curator changed or imported one. */
  readonly own: Rulebook | null;
  /** The device that it stands for; null if only a folder or ZIP is made for it. */
  readonly device: string | null;
  readonly selection: Selection;
  /** It is brought up to date when it is connected, as far as no decision is needed and nothing is removed. */
  readonly bySelf: boolean;
  /** The curator removed it: it is not shown. */
  readonly off: boolean;
  /** The named recipe for its audio twins; absent for the one in its rulebook. */
  readonly recipe?: RecipeId;
  /** The same for its video twins. */
  readonly videoRecipe?: RecipeId;
  /** Who decides if both sides differ and the curator did not. */
  readonly policy: SyncPolicy;
  readonly targets: readonly Target[];
}

/** Decisions about items, as opposed to decisions about files at one place. */
export const ofItems = ({ leftOut, shorten, suffixes, pictures }: PlayerChoices) => ({
  leftOut,
  shorten,
  suffixes,
  pictures,
});

/**
 * A player with other choices at a target. Decisions about items apply to all targets: a name that was numbered for the
 * device is numbered in its ZIP too.
 */
export const withChoices = (player: Player, target: TargetId, choices: PlayerChoices): Player => ({
  ...player,
  targets: player.targets.map((one) =>
    one.id === target ? { ...one, choices } : { ...one, choices: { ...one.choices, ...ofItems(choices) } },
  ),
});

/** The files that our runs left at a target. */
export interface Base {
  readonly target: TargetId;
  readonly placed: readonly PlacedFile[];
}

/**
 * A player without any decisions.
 * @param device the device that it stands for, null for none
 */
export function newPlayer(id: PlayerId, rulebook: string, device: string | null = id): Player {
  const types = TARGET_TYPES.filter((type) => type !== 'device' || device !== null);
  return {
    id,
    name: null,
    rulebook,
    own: null,
    device,
    selection: SELECT_ALL,
    bySelf: false,
    off: false,
    policy: 'ask',
    targets: types.map((type) => ({ id: targetId(id, type), type, choices: NO_CHOICES })),
  };
}

export const targetId = (player: PlayerId, type: TargetType): TargetId => `${player}.${type}` as TargetId;

/** The outcome of a run at a target. */
export interface PastRun {
  readonly id: string;
  /** Milliseconds since 1970. */
  readonly startedAt: number;
  readonly endedAt: number | null;
  readonly takenBack: boolean;
  /** Number of steps that were done, and that failed. */
  readonly done: number;
  readonly failed: number;
  /** Number of all steps. */
  readonly steps: number;
  /** Its steps are kept, not only their number. */
  readonly isKept: boolean;
}
