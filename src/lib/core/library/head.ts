import type { Arrival, Source } from '../items';
import type { SavedView } from '../browse';
import type { Feed } from '../feeds';
import type { FolderKind } from '../kinds';
import type { ListMarks, Play, PlayList, WatchedTree } from '../lists';
import type { Preset } from '../rewrite';
import type { NamedRecipe } from '../twins';
import type { Base, Player } from './players';

/** Version of what a library keeps and exports. Raise it together with a migration in `migrations/head.ts`. */
export const LIBRARY_VERSION = 17;

/** Everything of a library but its items. */
export interface LibraryHead {
  readonly version: number;
  /** Records of items that belong to it. */
  readonly chunks: number;
  readonly sources: readonly Source[];
  readonly arrivals: readonly Arrival[];
  readonly players: readonly Player[];
  /** What our runs left at each target. */
  readonly bases: readonly Base[];
  /** Kinds set for folders, and those that corrections hint at. */
  readonly folderKinds: readonly FolderKind[];
  readonly feeds: readonly Feed[];
  readonly watched: readonly WatchedTree[];
  readonly lists: readonly PlayList[];
  /** How often items were played to their ends, and what of each list was since its marks were cleared. */
  readonly plays: readonly Play[];
  readonly marks: readonly ListMarks[];
  readonly views: readonly SavedView[];
  readonly presets: readonly Preset[];
  /** Ways to convert that the curator keeps by name. */
  readonly recipes: readonly NamedRecipe[];
}

/** The parts of a head that are kept as they stand, with what they are in a new library. */
export const EMPTY_PARTS = {
  sources: [],
  arrivals: [],
  players: [],
  bases: [],
  folderKinds: [],
  feeds: [],
  watched: [],
  lists: [],
  plays: [],
  marks: [],
  views: [],
  presets: [],
  recipes: [],
} satisfies Omit<LibraryHead, 'version' | 'chunks'>;
export type HeadParts = Omit<LibraryHead, 'version' | 'chunks'>;
