import { array, mixed, number, object, string, type InferType } from 'yup';
import { KINDS, type Kind } from '../kinds';
import type { Shelf, Showing } from './rehearsal';

const text = () => string().defined().nullable();
const count = () => number().defined().nullable();

/** What a player's own scan answers. Checked here, since it comes from outside. */
export const scanSchema = object({
  shelves: array(
    object({
      kind: mixed<Kind>()
        .oneOf([...KINDS])
        .required(),
      title: text(),
      maker: text(),
      year: count(),
      picture: text(),
      items: array(
        object({
          path: string().required(),
          title: string().defined(),
          artist: text(),
          track: count(),
          disc: count(),
        }),
      ).required(),
    }),
  ).required(),
  unplaced: array(object({ path: string().required(), reason: string().required() })).required(),
}).required();

export type PlayerScan = InferType<typeof scanSchema>;

export interface Difference {
  readonly path: string;
  /** `missing`: the player does not show it. `refused`: it could not place it. `extra`: not rehearsed. Else a field. */
  readonly what:
    'missing' | 'refused' | 'extra' | 'shelf' | 'title' | 'artist' | 'track' | 'disc' | 'picture';
  readonly rehearsed: string;
  readonly shown: string;
}

export interface Proof {
  /** Items shown just as rehearsed. */
  readonly agreed: number;
  readonly differences: readonly Difference[];
  /** Items the player shows that no run of ours put there. */
  readonly foreign: number;
}

const shelfName = ({
  title,
  maker,
  year,
}: {
  title: string | null;
  maker: string | null;
  year: number | null;
}) =>
  [maker, title, year].filter((part) => part !== null && part !== '').join(', ') || 'a shelf without a name';
const word = (value: string | number | null) => (value === null ? 'nothing' : String(value));

/**
 * Holds a player's own scan against the rehearsal.
 * @param ours paths that the plan put or left on the player; others are foreign and only counted
 */
export function prove(rehearsed: Showing, scan: PlayerScan, ours: ReadonlySet<string>): Proof {
  const shown = new Map(
    scan.shelves.flatMap((shelf) => shelf.items.map((item) => [item.path, { shelf, item }] as const)),
  );
  const refused = new Map(scan.unplaced.map(({ path, reason }) => [path, reason]));
  const differences: Difference[] = [];
  const expected = new Set<string>();
  let agreed = 0;
  for (const shelf of rehearsed.shelves) {
    for (const item of shelf.items) {
      expected.add(item.path);
      const found = shown.get(item.path);
      const reason = refused.get(item.path);
      const differs: Difference[] = found
        ? compareItem(shelf, item, found)
        : [
            {
              path: item.path,
              what: reason ? 'refused' : 'missing',
              rehearsed: shelfName(shelf),
              shown: reason ?? 'not there',
            },
          ];
      if (differs.length === 0) agreed++;
      differences.push(...differs);
    }
  }
  let foreign = 0;
  for (const [path, { shelf }] of shown) {
    if (expected.has(path)) continue;
    if (ours.has(path))
      differences.push({ path, what: 'extra', rehearsed: 'not placed', shown: shelfName(shelf) });
    else foreign++;
  }
  return { agreed, differences, foreign };
}

type Found = {
  readonly shelf: PlayerScan['shelves'][number];
  readonly item: PlayerScan['shelves'][number]['items'][number];
};

function compareItem(shelf: Shelf, item: Shelf['items'][number], found: Found): Difference[] {
  const pairs = [
    ['shelf', shelfName(shelf), shelfName(found.shelf)],
    ['title', item.title, found.item.title],
    ['artist', item.artist, found.item.artist],
    ['track', item.track, found.item.track],
    ['disc', item.disc, found.item.disc],
    ['picture', shelf.picture, found.shelf.picture],
  ] as const;
  return pairs
    .filter(([, mine, theirs]) => mine !== theirs)
    .map(([what, mine, theirs]) => ({ path: item.path, what, rehearsed: word(mine), shown: word(theirs) }));
}
