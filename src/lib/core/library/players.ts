import { NO_CHOICES, type PlacedFile, type PlayerChoices, type SyncPolicy } from '../plan';

export type PlayerId = string & { readonly __brand: 'PlayerId' };
export type TargetId = string & { readonly __brand: 'TargetId' };

/** The device itself, a folder laid out for it, or a ZIP file. */
export const TARGET_TYPES = ['device', 'folder', 'zip'] as const;
export type TargetType = (typeof TARGET_TYPES)[number];

/** Where runs for a player write, and what was decided for it beyond the player's rulebook. */
export interface Target {
  readonly id: TargetId;
  readonly type: TargetType;
  readonly choices: PlayerChoices;
}

/** A rulebook with places to write to. */
export interface Player {
  readonly id: PlayerId;
  /** Id of its rulebook. */
  readonly rulebook: string;
  /** Who decides where both sides differ, as long as the curator said nothing. */
  readonly policy: SyncPolicy;
  readonly targets: readonly Target[];
}

/** What we know that our runs left at a target. */
export interface Base {
  readonly target: TargetId;
  readonly placed: readonly PlacedFile[];
}

/** A player as it is before anything was decided for it. */
export function newPlayer(id: PlayerId, rulebook: string): Player {
  const targets = TARGET_TYPES.map((type): Target => ({ id: targetId(id, type), type, choices: NO_CHOICES }));
  return { id, rulebook, policy: 'ask', targets };
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
