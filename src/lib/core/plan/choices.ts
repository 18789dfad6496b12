import type { ChosenPicture, ItemId } from '../items';
import type { Permission } from './there/permission';
import type { SideChoice } from './there/sides';

/** The curator's decisions for one player, beyond its rulebook. */
export interface PlayerChoices {
  /** Foreign files that may be replaced. A run keeps the old file until the curator accepts the run. */
  readonly replace: readonly Permission[];
  readonly leftOut: readonly ItemId[];
  /** Items whose names are shortened by rule because they are too long. */
  readonly shorten: readonly ItemId[];
  /** Text added to the names of items that would otherwise be equal: a number, or what distinguishes them. */
  readonly suffixes: readonly { readonly item: ItemId; readonly text: string }[];
  /** Foreign files on the player to be renamed. */
  readonly renames: readonly (Permission & { readonly to: string })[];
  /** Foreign files on the player to be removed. A run keeps them until the curator accepts it. */
  readonly removes: readonly Permission[];
  readonly sides: readonly SideChoice[];
  /** Chosen pictures of top folders by file path. They take precedence over pictures from albums. */
  readonly pictures: readonly { readonly path: string; readonly picture: ChosenPicture }[];
}

export const NO_CHOICES: PlayerChoices = {
  replace: [],
  leftOut: [],
  shorten: [],
  suffixes: [],
  renames: [],
  removes: [],
  sides: [],
  pictures: [],
};

/**
 * Remedies for items that would get the same name: number them, add a distinguishing mark, or copy only the better one.
 */
export const WAYS_APART = ['mark', 'number', 'better'] as const;
export type WayApart = (typeof WAYS_APART)[number];
