import type { ChosenPicture, ItemId } from '../items';
import type { Permission } from './there/permission';
import type { SideChoice } from './there/sides';

/** What a curator decided for one player beyond its rulebook. */
export interface PlayerChoices {
  /** Foreign files that may be replaced (the old one is held until the run is taken as good). */
  readonly replace: readonly Permission[];
  readonly leftOut: readonly ItemId[];
  /** Items whose too long names are shortened by rule. */
  readonly shorten: readonly ItemId[];
  /** What is put behind the names of items, since others have the same: a number, or what tells them apart. */
  readonly suffixes: readonly { readonly item: ItemId; readonly text: string }[];
  /** Foreign files on the player to be renamed. */
  readonly renames: readonly (Permission & { readonly to: string })[];
  readonly sides: readonly SideChoice[];
  /** Pictures of top folders, by the paths of their files, in place of those that albums would give them. */
  readonly pictures: readonly { readonly path: string; readonly picture: ChosenPicture }[];
}

export const NO_CHOICES: PlayerChoices = {
  replace: [],
  leftOut: [],
  shorten: [],
  suffixes: [],
  renames: [],
  sides: [],
  pictures: [],
};

/** Ways out where several items would get one name: each a number, each its mark, or the better one alone. */
export const WAYS_APART = ['mark', 'number', 'better'] as const;
export type WayApart = (typeof WAYS_APART)[number];
