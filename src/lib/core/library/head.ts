import { EMPTY_FIELDS, type Arrival, type Item, type Source } from '../items';
import type { Feed } from '../feeds';
import type { FolderKind } from '../kinds';
import type { PlayList, WatchedTree } from '../lists';
import type { PlacedFile, PlayerChoices } from '../plan';

/** Version of what a library keeps and exports. Raise it together with a migration. */
export const LIBRARY_VERSION = 2;

export const PLACES = ['attic', 'folder', 'zip'] as const;
/** Where a run writes: the player itself, a chosen folder laid out for it, or a ZIP. */
export type Place = (typeof PLACES)[number];

export interface PlaceRecord {
  /** What runs put there and is there still. */
  readonly placed: readonly PlacedFile[];
  readonly choices: PlayerChoices;
}

/** What the library remembers of one player. */
export interface PlayerRecord {
  readonly places: Readonly<Partial<Record<Place, PlaceRecord>>>;
}

/** Everything of a library but its items. */
export interface LibraryHead {
  readonly version: number;
  /** Records of items that belong to it. */
  readonly chunks: number;
  readonly sources: readonly Source[];
  readonly arrivals: readonly Arrival[];
  readonly players: Readonly<Record<string, PlayerRecord>>;
  /** Kinds set for folders, and those that corrections hint at. */
  readonly folderKinds: readonly FolderKind[];
  readonly feeds: readonly Feed[];
  readonly watched: readonly WatchedTree[];
  readonly lists: readonly PlayList[];
}

/** The parts of a head that are kept as they stand, with what they are in a new library. */
export const EMPTY_PARTS = {
  sources: [],
  arrivals: [],
  players: {},
  folderKinds: [],
  feeds: [],
  watched: [],
  lists: [],
} satisfies Omit<LibraryHead, 'version' | 'chunks'>;
export type HeadParts = Omit<LibraryHead, 'version' | 'chunks'>;

type Migration = (old: Record<string, unknown>) => Record<string, unknown>;

/** `MIGRATIONS[n]` turns version n into n + 1. Version 0 kept no players; version 1 knew no identities. */
const MIGRATIONS: readonly Migration[] = [
  (old) => ({ players: {}, ...old, version: 1 }),
  (old) => ({
    ...EMPTY_PARTS,
    ...old,
    arrivals: ((old.arrivals ?? []) as object[]).map((arrival) => ({ origin: 'folder', ...arrival })),
    version: 2,
  }),
];

/** An item of any earlier version as one of this version: what it did not have yet is empty. */
export function migrateItem(kept: Item): Item {
  if (kept.gone !== undefined && 'lyrics' in kept.fileFields) return kept;
  const { identity = null, gathering = null, chapters = null, gone = null } = kept as Partial<Item>;
  return {
    ...kept,
    identity,
    gathering,
    chapters,
    gone,
    fileFields: { ...EMPTY_FIELDS, ...kept.fileFields },
  };
}

/**
 * A head of any earlier version as one of this version.
 * @throws {RangeError} when it was written by a newer version, which must not be overwritten
 */
export function migrateHead(kept: unknown): LibraryHead {
  let head = kept as Record<string, unknown>;
  for (let version = Number(head.version ?? 0); version !== LIBRARY_VERSION; version = Number(head.version)) {
    const migrate = MIGRATIONS[version];
    if (!migrate) throw new RangeError(`version ${version} of a library is not known here`);
    head = migrate(head);
  }
  return head as unknown as LibraryHead;
}
