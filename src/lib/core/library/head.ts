import {
  EMPTY_FIELDS,
  earlierContent,
  earlierEdits,
  earlierSignature,
  type Arrival,
  type EarlierItem,
  type Item,
  type Source,
} from '../items';
import type { SavedView } from '../browse';
import type { Feed } from '../feeds';
import type { FolderKind } from '../kinds';
import type { PlayList, WatchedTree } from '../lists';
import type { Preset } from '../rewrite';
import { ownedFile, NO_CHOICES, type PlacedFile, type PlayerChoices } from '../plan';
import type { TargetType } from './places';
import { newPlayer, targetId, type Base, type Player, type PlayerId } from './players';

/** Version of what a library keeps and exports. Raise it together with a migration. */
export const LIBRARY_VERSION = 12;

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
  readonly views: readonly SavedView[];
  readonly presets: readonly Preset[];
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
  views: [],
  presets: [],
} satisfies Omit<LibraryHead, 'version' | 'chunks'>;
export type HeadParts = Omit<LibraryHead, 'version' | 'chunks'>;

type Migration = (old: Record<string, unknown>) => Record<string, unknown>;

/**
 * `MIGRATIONS[n]` turns version n into n + 1. Version 0 kept no players; version 1 knew no identities; up to version 2
 * several values were one text, and edits of other parts than fields were not part of what was noted of a copy; up to
 * version 3 a player was the name of its rulebook, and what lay at its places was kept with what was decided for them;
 * up to version 4 the browser kept all parts of a head in one record; up to version 5 nothing was decided of what other
 * hands did on a player; up to version 6 a player had all that it takes, and there was but one; up to version 7 no picture
 * was chosen for a top folder, and no view was kept; up to version 8 there were fewer fields, each of them in every record, and no presets;
 * up to version 9 the browser kept each item whole; up to version 10 others' files were given free by their names; up to
 * version 11 every file on a player was noted under an item.
 */
const MIGRATIONS: readonly Migration[] = [
  (old) => ({ players: {}, ...old, version: 1 }),
  (old) => ({
    ...EMPTY_PARTS,
    players: {},
    ...old,
    arrivals: ((old.arrivals ?? []) as object[]).map((arrival) => ({ origin: 'folder', ...arrival })),
    version: 2,
  }),
  (old) => ({
    ...old,
    players: mapValues((old.players ?? {}) as EarlierPlayers, ({ places }) => ({
      places: mapValues(places, (place) => ({
        ...place,
        placed: (place?.placed ?? []).map((file) => ({
          ...file,
          signature: earlierSignature(file.signature),
        })),
      })),
    })),
    watched: ((old.watched ?? []) as LibraryHead['watched']).map((tree) => ({
      ...tree,
      rules: tree.rules.map((rule) => ({ ...rule, defaults: earlierEdits(rule.defaults) })),
    })),
    version: 3,
  }),
  (old) => ({ ...old, ...playersOf((old.players ?? {}) as EarlierPlayers), version: 4 }),
  (old) => ({ ...old, version: 5 }),
  (old) => ({
    ...old,
    players: ((old.players ?? []) as readonly Player[]).map((player) => ({
      ...player,
      policy: player.policy ?? 'ask',
      targets: player.targets.map((target) => ({ ...target, choices: { ...NO_CHOICES, ...target.choices } })),
    })),
    version: 6,
  }),
  (old) => ({
    ...old,
    players: ((old.players ?? []) as readonly Player[]).map((player) => ({
      ...newPlayer(player.id, player.rulebook),
      ...player,
      targets: player.targets.map((target) => ({ ...target, choices: { ...NO_CHOICES, ...target.choices } })),
    })),
    version: 7,
  }),
  (old) => ({
    views: [],
    ...old,
    players: ((old.players ?? []) as readonly Player[]).map((player) => ({
      ...player,
      targets: player.targets.map((target) => ({ ...target, choices: { ...NO_CHOICES, ...target.choices } })),
    })),
    version: 8,
  }),
  (old) => ({ presets: [], ...old, version: 9 }),
  (old) => ({ ...old, version: 10 }),
  (old) => ({ ...old, players: ((old.players ?? []) as readonly PlayerOf10[]).map(askAgain), version: 11 }),
  (old) => ({
    ...old,
    bases: ((old.bases ?? []) as readonly Base[]).map(({ target, placed }) => ({
      target,
      placed: placed.map(ownedFile),
    })),
    version: 12,
  }),
];

/** What is read here of a player as version 10 kept it. */
interface PlayerOf10 {
  readonly targets: readonly { readonly choices: object }[];
}

/** Which file a name was given free for is not known: the curator is asked again. */
const askAgain = (player: PlayerOf10): PlayerOf10 => ({
  ...player,
  targets: player.targets.map((target) => ({
    ...target,
    choices: { ...target.choices, replace: [], renames: [] },
  })),
});

/** What up to version 3 was kept of players, by the names of their rulebooks. */
type EarlierPlayers = Readonly<
  Record<string, { readonly places: Readonly<Record<string, EarlierPlace | undefined>> }>
>;
interface EarlierPlace {
  readonly placed: readonly PlacedFile[];
  readonly choices: PlayerChoices;
}

/** Targets by the names that their places had up to version 3. */
export const EARLIER_PLACES: Readonly<Record<string, TargetType>> = {
  attic: 'device',
  folder: 'folder',
  zip: 'zip',
};

function playersOf(old: EarlierPlayers): Pick<LibraryHead, 'players' | 'bases'> {
  const bases: Base[] = [];
  const players = Object.entries(old).map(([name, { places }]): Player => {
    const player = newPlayer(name as PlayerId, name);
    const choices = new Map<string, PlayerChoices>();
    for (const [place, record] of Object.entries(places)) {
      const type = EARLIER_PLACES[place];
      if (!type || !record) continue;
      choices.set(type, record.choices);
      if (record.placed.length > 0) bases.push({ target: targetId(player.id, type), placed: record.placed });
    }
    const targets = player.targets.map((one) => ({ ...one, choices: choices.get(one.type) ?? one.choices }));
    return { ...player, targets };
  });
  return { players, bases };
}

const mapValues = <V, W>(from: Readonly<Record<string, V>>, map: (value: V) => W): Record<string, W> =>
  Object.fromEntries(Object.entries(from).map(([key, value]) => [key, map(value)]));

/** What earlier versions kept of an item: all of it or some of what it has now. */
type EarlierKept = Omit<Item, 'file' | 'edits'> & EarlierItem;

/** An item of any earlier version as one of this version: what it did not have yet is empty. */
export function migrateItem(kept: Item | EarlierKept): Item {
  if (!('fileFields' in kept)) {
    // In place: what was kept was made for nobody else, and there are very many of them.
    Object.assign(kept.file, { fields: { ...EMPTY_FIELDS, ...kept.file.fields } });
    return kept;
  }
  const { fileFields: _, picture: __, chapters: ___, facts, ...rest } = kept;
  const { pictures: ____, chapters: _____, ...ownFacts } = facts;
  const { identity = null, gathering = null, gone = null } = kept;
  return { ...rest, facts: ownFacts, identity, gathering, gone, ...earlierContent(kept) };
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
