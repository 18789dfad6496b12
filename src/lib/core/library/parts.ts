import { NO_CHOICES } from '../plan';
import { EMPTY_PARTS, type HeadParts, type PlayerRecord } from './head';

/** One entry of one part of a head before and after an act. Null stands for an entry that is not there. */
export interface PartChange {
  readonly part: keyof HeadParts;
  readonly key: string;
  readonly before: unknown;
  readonly after: unknown;
}

type Entries = ReadonlyMap<string, unknown>;

const KEYS: { readonly [P in Exclude<keyof HeadParts, 'players'>]: (entry: HeadParts[P][number]) => string } =
  {
    sources: ({ id }) => id,
    arrivals: ({ id }) => id,
    feeds: ({ id }) => id,
    lists: ({ id }) => id,
    watched: ({ source }) => source,
    folderKinds: ({ source, folder, by }) => `${source}\n${folder}\n${by}`,
  };

function entriesOf(parts: HeadParts, part: keyof HeadParts): Entries {
  if (part === 'players') return new Map(Object.entries(parts.players));
  const keyOf = KEYS[part] as (entry: unknown) => string;
  return new Map((parts[part] as readonly unknown[]).map((entry) => [keyOf(entry), entry]));
}

/** What bringing `theirs` in changes: their entries are added, and stand for those of the same key. */
export function mergeParts(mine: HeadParts, theirs: HeadParts): readonly PartChange[] {
  return (Object.keys(EMPTY_PARTS) as (keyof HeadParts)[]).flatMap((part) => {
    const known = entriesOf(mine, part);
    return [...entriesOf(theirs, part)].flatMap(([key, entry]): PartChange[] => {
      // What a player holds is known better here than from a file.
      if (part === 'players' && known.has(key)) return [];
      const after = part === 'players' ? claimed(entry as PlayerRecord) : entry;
      return [{ part, key, before: known.get(key) ?? null, after }];
    });
  });
}

/**
 * What a file says of what lies on a player is a claim: it counts only where a digest can prove it, and leaves
 * nothing to be replaced or renamed.
 */
function claimed({ places }: PlayerRecord): PlayerRecord {
  return {
    places: Object.fromEntries(
      Object.entries(places).map(([place, record]) => [
        place,
        {
          placed: record.placed.filter(({ digest }) => digest !== null),
          choices: { ...NO_CHOICES, leftOut: record.choices.leftOut, shorten: record.choices.shorten },
        },
      ]),
    ),
  };
}

/** The parts with these entries changed; all others stay, whatever became of them in between. */
export function changeParts(parts: HeadParts, changes: readonly PartChange[]): HeadParts {
  const next: Record<string, unknown> = { ...parts };
  for (const part of new Set(changes.map((change) => change.part))) {
    const entries = new Map(entriesOf(next as unknown as HeadParts, part));
    for (const { part: of, key, after } of changes) {
      if (of !== part) continue;
      if (after === null) entries.delete(key);
      else entries.set(key, after);
    }
    next[part] = part === 'players' ? Object.fromEntries(entries) : [...entries.values()];
  }
  return next as unknown as HeadParts;
}
