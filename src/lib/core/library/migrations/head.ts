import { earlierEdits, earlierSignature } from '../../items';
import { ownedFile } from '../../plan';
import { LIBRARY_VERSION, type LibraryHead } from '../head';

/*
 * Heads of libraries as earlier versions kept them. What is read and written here has the shape of its version: nothing
 * of today's is called upon, which may be another one tomorrow.
 */

type Json = Readonly<Record<string, unknown>>;
type Migration = (old: Json) => Json;
type Placed = Parameters<typeof ownedFile>[0];

/** A player as version 4 knew it: by its rulebook, with a target for each sort of place. */
interface PlayerOf4 {
  readonly id: string;
  readonly targets: readonly { readonly choices: object }[];
}

/** What up to version 3 was kept of players, by the names of their rulebooks. */
type PlayersOf3 = Readonly<
  Record<string, { readonly places: Readonly<Record<string, PlaceOf3 | undefined>> }>
>;
interface PlaceOf3 {
  readonly placed: readonly Placed[];
  readonly choices: object;
}

/** Targets by the names that their places had up to version 3. */
export const EARLIER_PLACES: Readonly<Record<string, 'device' | 'folder' | 'zip'>> = {
  attic: 'device',
  folder: 'folder',
  zip: 'zip',
};

const CHOICES_OF_4 = { replace: [], leftOut: [], shorten: [], suffixes: [], renames: [] };
const CHOICES_OF_6 = { ...CHOICES_OF_4, sides: [] };
const CHOICES_OF_8 = { ...CHOICES_OF_6, pictures: [] };

const playerOf7 = ({ id }: PlayerOf4) => ({
  name: null,
  own: null,
  device: id,
  selection: { kinds: null, text: '', with: [], order: [] },
  bySelf: false,
  off: false,
});

const playersIn = ({ players }: Json) => (players ?? []) as readonly PlayerOf4[];

const withChoices = (player: PlayerOf4, defaults: object): PlayerOf4 => ({
  ...player,
  targets: player.targets.map((target) => ({ ...target, choices: { ...defaults, ...target.choices } })),
});

/**
 * `MIGRATIONS[n]` turns version n into n + 1. Version 0 kept no players; version 1 knew no identities; up to version 2
 * several values were one text, and edits of other parts than fields were not part of what was noted of a copy; up to
 * version 3 a player was the name of its rulebook, and what lay at its places was kept with what was decided for them;
 * up to version 4 the browser kept all parts of a head in one record; up to version 5 nothing was decided of what other
 * hands did on a player; up to version 6 a player had all that it takes, and there was but one; up to version 7 no picture
 * was chosen for a top folder, and no view was kept; up to version 8 there were fewer fields, each of them in every record, and no presets; up to version 12 no recipe was kept;
 * up to version 9 the browser kept each item whole; up to version 10 others' files were given free by their names; up to
 * version 11 every file on a player was noted under an item; up to version 15 all lists were mirrors of folders, and up to
 * version 16 nobody noted what was played.
 */
const MIGRATIONS: readonly Migration[] = [
  (old) => ({ players: {}, ...old, version: 1 }),
  (old) => ({
    sources: [],
    folderKinds: [],
    feeds: [],
    watched: [],
    lists: [],
    players: {},
    ...old,
    arrivals: ((old.arrivals ?? []) as object[]).map((arrival) => ({ origin: 'folder', ...arrival })),
    version: 2,
  }),
  (old) => ({
    ...old,
    players: mapValues((old.players ?? {}) as PlayersOf3, ({ places }) => ({
      places: mapValues(places, (place) => ({
        ...place,
        placed: (place?.placed ?? []).map((file) => ({
          ...file,
          signature: earlierSignature(file.signature),
        })),
      })),
    })),
    watched: (
      (old.watched ?? []) as readonly { readonly rules: readonly { readonly defaults: Json }[] }[]
    ).map((tree) => ({
      ...tree,
      rules: tree.rules.map((rule) => ({ ...rule, defaults: earlierEdits(rule.defaults) })),
    })),
    version: 3,
  }),
  (old) => ({ ...old, ...playersOf3((old.players ?? {}) as PlayersOf3), version: 4 }),
  (old) => ({ ...old, version: 5 }),
  (old) => ({
    ...old,
    players: playersIn(old).map((player) => ({ policy: 'ask', ...withChoices(player, CHOICES_OF_6) })),
    version: 6,
  }),
  (old) => ({
    ...old,
    players: playersIn(old).map((player) => ({ ...playerOf7(player), ...withChoices(player, CHOICES_OF_6) })),
    version: 7,
  }),
  (old) => ({
    views: [],
    ...old,
    players: playersIn(old).map((player) => withChoices(player, CHOICES_OF_8)),
    version: 8,
  }),
  (old) => ({ presets: [], ...old, version: 9 }),
  (old) => ({ ...old, version: 10 }),
  // Which file a name was given free for is not known: the curator is asked again.
  (old) => ({
    ...old,
    players: playersIn(old).map((player) => ({
      ...player,
      targets: player.targets.map((target) => ({
        ...target,
        choices: { ...target.choices, replace: [], renames: [] },
      })),
    })),
    version: 11,
  }),
  (old) => ({
    ...old,
    bases: ((old.bases ?? []) as readonly { readonly placed: readonly Placed[] }[]).map((base) => ({
      ...base,
      placed: base.placed.map(ownedFile),
    })),
    version: 12,
  }),
  (old) => ({ recipes: [], ...old, version: 13 }),
  // Recipes may be of moving pictures, and items may be made of others. What moves is called video.
  (old) => ({
    ...old,
    players: ((old.players ?? []) as readonly PlayerOf13[]).map(({ filmRecipe, ...player }) => ({
      ...player,
      ...(filmRecipe !== undefined && { videoRecipe: filmRecipe }),
      ...(player.own && { own: withVideoTwins(player.own) }),
    })),
    version: 14,
  }),
  // Recipes of sound, and rulebooks with them, say how deep samples may be, and whether the bit rate varies.
  (old) => ({
    ...old,
    recipes: ((old.recipes ?? []) as readonly { readonly wishes: object }[]).map((recipe) => ({
      ...recipe,
      wishes: 'container' in recipe.wishes ? recipe.wishes : deepWishes(recipe.wishes),
    })),
    players: ((old.players ?? []) as readonly { readonly own?: RulebookOf5 | null }[]).map((player) => ({
      ...player,
      ...(player.own && { own: deepRulebook(player.own) }),
    })),
    version: 15,
  }),
  // Lists have a note, and stand in groups: those of a tree that was tied in one of its name.
  (old) => {
    const trees = (old.watched ?? []) as readonly { readonly source: string; readonly label: string }[];
    const labels = new Map(trees.map(({ source, label }) => [source, label]));
    return {
      ...old,
      lists: ((old.lists ?? []) as readonly { readonly source: string }[]).map((list) => ({
        ...list,
        note: '',
        group: labels.get(list.source) ?? null,
        isDeep: false,
      })),
      version: 16,
    };
  },
  (old) => ({
    ...old,
    version: 17,
    plays: [],
    marks: [],
    players: ((old.players ?? []) as readonly { readonly own?: object | null }[]).map((player) =>
      player.own ? { ...player, own: { ...player.own, version: 7 } } : player,
    ),
  }),
];

interface PlayerOf13 {
  readonly filmRecipe?: string;
  readonly own?: RulebookOf13 | null;
}

interface RulebookOf13 {
  readonly filmTwins?: object | null;
}

const withVideoTwins = ({ filmTwins, ...own }: RulebookOf13) =>
  filmTwins === undefined ? own : { ...own, videoTwins: filmTwins };

interface RulebookOf5 {
  readonly takes: readonly { readonly most: object }[];
  readonly twins?: object | null;
}

const deepWishes = (wishes: object) => ({ mostBits: null, variable: false, ...wishes });

const deepRulebook = (own: RulebookOf5) => ({
  ...own,
  version: 6,
  takes: own.takes.map((take) => ({ ...take, most: { bits: null, ...take.most } })),
  twins: own.twins ? deepWishes(own.twins) : null,
});

function playersOf3(old: PlayersOf3): {
  readonly players: readonly object[];
  readonly bases: readonly object[];
} {
  const bases: object[] = [];
  const players = Object.entries(old).map(([name, { places }]) => {
    const choices = new Map<string, object>();
    for (const [place, record] of Object.entries(places)) {
      const type = EARLIER_PLACES[place];
      if (!type || !record) continue;
      choices.set(type, record.choices);
      if (record.placed.length > 0) bases.push({ target: `${name}.${type}`, placed: record.placed });
    }
    const targets = ['device', 'folder', 'zip'].map((type) => ({
      id: `${name}.${type}`,
      type,
      choices: choices.get(type) ?? CHOICES_OF_4,
    }));
    return { id: name, rulebook: name, targets };
  });
  return { players, bases };
}

const mapValues = <V, W>(from: Readonly<Record<string, V>>, map: (value: V) => W): Record<string, W> =>
  Object.fromEntries(Object.entries(from).map(([key, value]) => [key, map(value)]));

/**
 * A head of any earlier version as one of this version.
 * @throws {RangeError} when it was written by a newer version, which must not be overwritten
 */
export function migrateHead(kept: unknown): LibraryHead {
  let head = kept as Json;
  for (let version = Number(head.version ?? 0); version !== LIBRARY_VERSION; version = Number(head.version)) {
    const migrate = MIGRATIONS[version];
    if (!migrate) throw new RangeError(`version ${version} of a library is not known here`);
    head = migrate(head);
  }
  return head as unknown as LibraryHead;
}
