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

/** A player in version 4: known by its rulebook, with a target for each type of place. */
interface PlayerOf4 {
  readonly id: string;
  readonly targets: readonly { readonly choices: object }[];
}

/** Players in versions up to 3, by the names of their rulebooks. */
type PlayersOf3 = Readonly<
  Record<string, { readonly places: Readonly<Record<string, PlaceOf3 | undefined>> }>
>;
interface PlaceOf3 {
  readonly placed: readonly Placed[];
  readonly choices: object;
}

/** Names that targets had up to version 3. */
export const EARLIER_PLACES: Readonly<Record<string, 'device' | 'folder' | 'zip'>> = {
  attic: 'device',
  folder: 'folder',
  zip: 'zip',
};

const CHOICES_OF_4 = { replace: [], leftOut: [], shorten: [], suffixes: [], renames: [] };
const CHOICES_OF_6 = { ...CHOICES_OF_4, sides: [] };
const CHOICES_OF_8 = { ...CHOICES_OF_6, pictures: [] };
const CHOICES_OF_20 = { removes: [] };

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
 * `MIGRATIONS[n]` turns version n into n + 1. What each version added: 1 players; 2 identities; 3 fields with several
 * values, and edits of other parts in signatures; 4 players with names of their own; 5 parts of a head in separate
 * records; 6 decisions about changes on players; 7 selections and several players; 8 chosen pictures of top folders,
 * and views; 9 more fields, empty ones left out, and presets; 10 items without their descriptions; 11 permissions with
 * digests; 12 owners of files on players; 13 recipes; 16 lists other than those of folders; 17 plays; 18 files
 * found beside items; 19 track lists of one's own; 20 foreign files to be removed from players.
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
  // The file that a permission was given for is unknown, so the curator is asked again.
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
  // Recipes can be for video, and items can be made from others.
  (old) => ({
    ...old,
    players: ((old.players ?? []) as readonly PlayerOf13[]).map(({ filmRecipe, ...player }) => ({
      ...player,
      ...(filmRecipe !== undefined && { videoRecipe: filmRecipe }),
      ...(player.own && { own: withVideoTwins(player.own) }),
    })),
    version: 14,
  }),
  // Recipes and rulebooks set the bit depth of audio, and whether the bit rate is variable.
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
  // Lists have notes and groups: lists of folders are in a group named after their folder.
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
  // Items have files found beside them; the head is the same.
  (old) => ({ ...old, version: 18 }),
  (old) => ({ references: [], ...old, version: 19 }),
  (old) => ({
    ...old,
    players: playersIn(old).map((player) => withChoices(player, CHOICES_OF_20)),
    version: 20,
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
 * A head of any earlier version in the present form.
 * @throws {RangeError} if a newer version wrote it, which must not be overwritten
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
