export type FeedId = string & { readonly __brand: 'FeedId' };

/** An episode as described by its feed. */
export interface Episode {
  readonly guid: string;
  readonly title: string;
  readonly season: number | null;
  readonly number: number | null;
  /** `YYYY-MM-DD`. */
  readonly date: string | null;
  /** Plain text. */
  readonly description: string | null;
  readonly people: readonly string[];
  /** Address of its sound or picture. */
  readonly url: string;
  /** Size in the feed; null if missing. */
  readonly bytes: number | null;
  readonly extension: string;
  readonly chaptersUrl: string | null;
  readonly transcriptUrl: string | null;
  readonly pictureUrl: string | null;
}

/** A show as described by its feed. */
export interface FeedFacts {
  readonly title: string;
  readonly maker: string | null;
  readonly description: string | null;
  readonly pictureUrl: string | null;
  /** Newest first, as feeds have them. */
  readonly episodes: readonly Episode[];
  readonly warnings: readonly FeedWarning[];
}

/** A problem in a feed that could be read in part. */
export interface FeedWarning {
  readonly code: 'entities' | 'malformed' | 'brokenEpisodes' | 'cutOff';
  readonly count: number;
}

/** A feed that the library follows. */
export interface Feed extends FeedFacts {
  readonly id: FeedId;
  /** Null for one that was read in from a file. */
  readonly address: string | null;
  /** Milliseconds since 1970. */
  readonly checkedAt: number;
  /** Guids of episodes that were fetched. */
  readonly fetched: readonly string[];
  /** Guids of episodes that are not wanted. */
  readonly passed: readonly string[];
}

/** Episodes that were neither fetched nor passed over. */
export function newEpisodes({ episodes, fetched, passed }: Feed): readonly Episode[] {
  const done = new Set([...fetched, ...passed]);
  return episodes.filter(({ guid }) => !done.has(guid));
}

/** A feed that was read again: episodes that were fetched or skipped stay so, and those that left it are kept. */
export function renewFeed(feed: Feed, facts: FeedFacts, at: number): Feed {
  const present = new Set(facts.episodes.map(({ guid }) => guid));
  const left = feed.episodes.filter(({ guid }) => !present.has(guid));
  return { ...feed, ...facts, episodes: [...facts.episodes, ...left], checkedAt: at };
}
