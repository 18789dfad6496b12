import type { Player, PlayerId } from '$lib/core/library';
import type { Rulebook } from '$lib/core/rulebooks';

/** The player that the parts of a desk are of, as the library has it now. */
export interface OfPlayer {
  readonly id: PlayerId;
  readonly player: Player;
  readonly rulebook: Rulebook;
  readonly name: string;
}
