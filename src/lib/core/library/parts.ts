import { NO_CHOICES } from '../plan';
import { EMPTY_PARTS, type HeadParts } from './head';
import { newPlayer, type Base, type Player } from './players';

/** One entry of a part of a head before and after an act. Null if it does not exist. */
export interface PartChange {
  readonly part: keyof HeadParts;
  readonly key: string;
  readonly before: unknown;
  readonly after: unknown;
}

type Entries = ReadonlyMap<string, unknown>;

const KEYS: { readonly [P in keyof HeadParts]: (entry: HeadParts[P][number]) => string } = {
  sources: ({ id }) => id,
  arrivals: ({ id }) => id,
  players: ({ id }) => id,
  bases: ({ target }) => target,
  feeds: ({ id }) => id,
  lists: ({ id }) => id,
  plays: ({ item }) => item,
  marks: ({ list }) => list,
  views: ({ id }) => id,
  presets: ({ id }) => id,
  recipes: ({ id }) => id,
  references: ({ id }) => id,
  watched: ({ source }) => source,
  folderKinds: ({ source, folder, by }) => `${source}\n${folder}\n${by}`,
};

function entriesOf(parts: HeadParts, part: keyof HeadParts): Entries {
  const keyOf = KEYS[part] as (entry: unknown) => string;
  return new Map((parts[part] as readonly unknown[]).map((entry) => [keyOf(entry), entry]));
}

/** The changes that add `theirs`: their entries are added, or replace those with the same key. */
export function mergeParts(mine: HeadParts, theirs: HeadParts): readonly PartChange[] {
  return (Object.keys(EMPTY_PARTS) as (keyof HeadParts)[]).flatMap((part) => {
    const known = entriesOf(mine, part);
    return [...entriesOf(theirs, part)].flatMap(([key, entry]): PartChange[] => {
      const claim = CLAIMS[part];
      // What a player holds is better known here than from a file.
      if (claim && known.has(key)) return [];
      const after = claim ? claim(entry as never) : entry;
      return [{ part, key, before: known.get(key) ?? null, after }];
    });
  });
}

/**
 * What a library file says about files on a player is only a claim: it needs a digest, and gives no permission to
 * replace or rename.
 */
const CLAIMS: { readonly [P in keyof HeadParts]?: (entry: HeadParts[P][number]) => HeadParts[P][number] } = {
  players: ({ id, rulebook, name, own, device, selection, targets, recipe, videoRecipe }): Player => {
    const player = newPlayer(id, rulebook, device);
    return {
      ...player,
      name,
      own,
      selection,
      ...(recipe && { recipe }),
      ...(videoRecipe && { videoRecipe }),
      targets: player.targets.map((target) => {
        const own = targets.find((one) => one.id === target.id)?.choices ?? NO_CHOICES;
        const { leftOut, shorten, suffixes, pictures } = own;
        return { ...target, choices: { ...NO_CHOICES, leftOut, shorten, suffixes, pictures } };
      }),
    };
  },
  bases: ({ target, placed }): Base => ({ target, placed: placed.filter(({ digest }) => digest !== null) }),
};

/** The parts with these entries changed. Other entries stay as they are now. */
export function changeParts(parts: HeadParts, changes: readonly PartChange[]): HeadParts {
  const next: Record<string, unknown> = { ...parts };
  for (const part of new Set(changes.map((change) => change.part))) {
    const entries = new Map(entriesOf(next as unknown as HeadParts, part));
    for (const { part: of, key, after } of changes) {
      if (of !== part) continue;
      if (after === null) entries.delete(key);
      else entries.set(key, after);
    }
    next[part] = [...entries.values()];
  }
  return next as unknown as HeadParts;
}
