import { array, boolean, mixed, number, object, string } from 'yup';

/** The types of releases in a reference. Each has entries that files are matched with. */
export const RELEASE_TYPES = ['album', 'series', 'audiobook', 'podcast', 'film'] as const;
export type ReleaseType = (typeof RELEASE_TYPES)[number];

/** Orders of a series: as broadcast, as pressed on disc, and one running number over all seasons. */
export const ORDER_NAMES = ['aired', 'disc', 'running'] as const;
export type OrderName = (typeof ORDER_NAMES)[number];

/** A track, an episode, a chapter or the film itself. */
export interface ReferenceEntry {
  readonly id: string;
  /** Its number within its disc or season, in the release's own order. */
  readonly number: number;
  /** Disc or season; null if there is only one. */
  readonly disc: number | null;
  readonly title: string;
  /** The artist, if it differs from the release's artist. */
  readonly artist: string | null;
  readonly lengthSeconds: number | null;
  /** `YYYY-MM-DD`. */
  readonly date: string | null;
  readonly description: string | null;
  readonly hasLyrics: boolean;
}

/** An order other than the release's own: its entries with the numbers that they have in it. */
export interface ReferenceOrder {
  readonly name: OrderName;
  readonly entries: readonly { readonly id: string; readonly number: number }[];
}

export interface ReferenceRelease {
  readonly id: string;
  readonly type: ReleaseType;
  /** The reference that knows it, as people call it. */
  readonly source: string;
  readonly title: string;
  /** Artist, author, host or director. */
  readonly maker: string | null;
  /** Reader of an audiobook. */
  readonly narrator: string | null;
  /** A mark that distinguishes releases of one title. */
  readonly edition: string | null;
  readonly year: number | null;
  readonly genre: string | null;
  readonly season: number | null;
  readonly description: string | null;
  readonly compilation: boolean;
  readonly entries: readonly ReferenceEntry[];
  readonly orders: readonly ReferenceOrder[];
  /** Edge lengths in pixels in which its picture can be had; empty when it has none. */
  readonly pictureSizes: readonly number[];
  /** It is a list of the curator's own. */
  readonly isOwn?: true;
}

/** A query to a reference. Missing parts do not count. */
export interface LookUp {
  readonly type: ReleaseType;
  readonly words?: string;
  /** Seconds of each file, in order. */
  readonly lengths?: readonly number[];
  /** Fingerprints as text, as `core/sound` writes them. */
  readonly fingerprints?: readonly string[];
  /** The reference's own number of a release. */
  readonly number?: string;
}

/** Releases of one answer that are looked at; more is no answer but a flood. */
export const MOST_ANSWERS = 40;

const text = () => string().nullable().defined();
const count = () => number().integer().min(0);
const entrySchema = object({
  id: string().required(),
  number: count().required(),
  disc: count().nullable().defined(),
  title: string().defined(),
  artist: text(),
  lengthSeconds: number().min(0).nullable().defined(),
  date: text(),
  description: text(),
  hasLyrics: boolean().required(),
});
const releaseSchema = object({
  id: string().required(),
  type: mixed()
    .oneOf([...RELEASE_TYPES])
    .required(),
  source: string().required(),
  title: string().required(),
  maker: text(),
  narrator: text(),
  edition: text(),
  year: count().nullable().defined(),
  genre: text(),
  season: count().nullable().defined(),
  description: text(),
  compilation: boolean().required(),
  entries: array(entrySchema).max(5000).required(),
  orders: array(
    object({
      name: mixed()
        .oneOf([...ORDER_NAMES])
        .required(),
      entries: array(object({ id: string().required(), number: count().required() })).required(),
    }),
  ).required(),
  pictureSizes: array(number().required()).required(),
});

/**
 * The releases in an answer, checked one by one: malformed ones are left out and counted.
 * @throws {TypeError} if the answer is not a list
 */
export function readReleases(answer: unknown): {
  readonly releases: readonly ReferenceRelease[];
  readonly dropped: number;
} {
  const list = (answer as { releases?: unknown } | null)?.releases;
  if (!Array.isArray(list)) throw new TypeError('the answer holds no list of releases');
  const isRelease = (release: unknown): release is ReferenceRelease =>
    releaseSchema.isValidSync(release, { strict: true });
  const releases = (list as unknown[]).slice(0, MOST_ANSWERS).filter(isRelease);
  return { releases, dropped: list.length - releases.length };
}

/** The release's entries in one of its orders, with the numbers of that order; its own when it has no such order. */
export function entriesInOrder(
  release: ReferenceRelease,
  order: OrderName | null,
): readonly ReferenceEntry[] {
  const chosen = release.orders.find(({ name }) => name === order);
  if (!chosen) return release.entries;
  const byId = new Map(release.entries.map((entry) => [entry.id, entry]));
  return chosen.entries.flatMap(({ id, number: place }) => {
    const entry = byId.get(id);
    return entry ? [{ ...entry, number: place }] : [];
  });
}
