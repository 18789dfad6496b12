export { newEpisodes, renewFeed } from './feed';
export type { Episode, Feed, FeedFacts, FeedId, FeedWarning } from './feed';
export { FeedError, readFeed, readSubscriptions } from './read-feed';
