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

/** Where runs for a player write, and what was decided for it beyond the player's rulebook. */
export interface Target {
  readonly id: TargetId;
  readonly type: TargetType;
  readonly choices: PlayerChoices;
}

/** A rulebook with places to write to. */
export interface Player {
  readonly id: PlayerId;
  /** As the curator calls it; null for the name in its rulebook. */
  readonly name: string | null;
  /** Id of the rulebook that it goes by, of those that come with the application. */
  readonly rulebook: string;
  /** The rulebook itself, where the curator changed it or brought it along. */
  readonly own: Rulebook | null;
  /** The device of the house that it stands for; null for one that only a folder or a ZIP is made for. */
  readonly device: string | null;
  readonly selection: Selection;
  /** It is brought up to date by itself when it comes, as far as nothing is to be decided and nothing goes. */
  readonly bySelf: boolean;
  /** The curator took it off: it is not shown. */
  readonly off: boolean;
  /** The recipe that its twins are made by, of those that the curator keeps; absent for what its rulebook says. */
  readonly recipe?: RecipeId;
  /** The same for its twins with moving pictures. */
  readonly videoRecipe?: RecipeId;
  /** Who decides where both sides differ, as long as the curator said nothing. */
  readonly policy: SyncPolicy;
  readonly targets: readonly Target[];
}

/** What is decided of items, and not of files that lie at one place. */
export const ofItems = ({ leftOut, shorten, suffixes, pictures }: PlayerChoices) => ({
  leftOut,
  shorten,
  suffixes,
  pictures,
});

/**
 * A player with other choices at a target. What was decided of items holds wherever it is written: a name that was
 * numbered for the device is numbered in its ZIP, too.
 */
export const withChoices = (player: Player, target: TargetId, choices: PlayerChoices): Player => ({
  ...player,
  targets: player.targets.map((one) =>
    one.id === target ? { ...one, choices } : { ...one, choices: { ...one.choices, ...ofItems(choices) } },
  ),
});

/** What we know that our runs left at a target. */
export interface Base {
  readonly target: TargetId;
  readonly placed: readonly PlacedFile[];
}

/**
 * A player as it is before anything was decided for it.
 * @param device the device of the house that it stands for, null for none
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

/** What came of a run at a target. */
export interface PastRun {
  readonly id: string;
  /** Milliseconds since 1970. */
  readonly startedAt: number;
  readonly endedAt: number | null;
  readonly takenBack: boolean;
  /** Steps that were done, and that failed. */
  readonly done: number;
  readonly failed: number;
  /** All that it had. */
  readonly steps: number;
  /** Its steps are kept, and not its counts alone. */
  readonly isKept: boolean;
}
