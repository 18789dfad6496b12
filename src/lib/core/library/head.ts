import type { Arrival, Source } from '../items';
import type { SavedView } from '../browse';
import type { Feed } from '../feeds';
import type { OwnReference } from '../track-lists';
import type { FolderKind } from '../kinds';
import type { ListMarks, Play, PlayList, WatchedTree } from '../lists';
import type { Preset } from '../rewrite';
import type { NamedRecipe } from '../twins';
import type { Base, Player } from './players';

/**
 * Version of the format that a library is kept and exported in. Raise it together with a migration in
 * `migrations/head.ts`.
 */
export const LIBRARY_VERSION = 20;

/** All of a library except its items. */
export interface LibraryHead {
  readonly version: number;
  /** Number of records of items. */
  readonly chunks: number;
  readonly sources: readonly Source[];
  readonly arrivals: readonly Arrival[];
  readonly players: readonly Player[];
  /** The files that our runs left at each target. */
  readonly bases: readonly Base[];
  /** Kinds set for folders, and those suggested by corrections. */
  readonly folderKinds: readonly FolderKind[];
  readonly feeds: readonly Feed[];
  readonly watched: readonly WatchedTree[];
  readonly lists: readonly PlayList[];
  /** How often items were played to the end, and which entries of lists were played since their marks were cleared. */
  readonly plays: readonly Play[];
  readonly marks: readonly ListMarks[];
  readonly views: readonly SavedView[];
  readonly presets: readonly Preset[];
  /** Named recipes for converting. */
  readonly recipes: readonly NamedRecipe[];
  /** Track and episode lists of the curator's own, which files are compared with. */
  readonly references: readonly OwnReference[];
}

/** The parts of a head that are kept as they are, with their values in a new library. */
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
  references: [],
} satisfies Omit<LibraryHead, 'version' | 'chunks'>;
export type HeadParts = Omit<LibraryHead, 'version' | 'chunks'>;
