import { FeedError, readFeed, readSubscriptions } from '$lib/core/feeds';
import type { FeedAnswer, FeedRequest, ReadFeed, ReadSubscriptions } from './feed-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Reads feeds for whoever asks through a port: one may be large, and damaged from end to end. */
export function serveFeeds(port: Port): void {
  serveAnswers<FeedRequest, never>(port, (request): FeedAnswer<ReadFeed | ReadSubscriptions> => {
    try {
      if (request.type === 'subscriptions')
        return { type: 'read', value: readSubscriptions(request.content) };
      const { content, cutOff } = request;
      const text = typeof content === 'string' ? content : new TextDecoder().decode(content);
      return { type: 'read', value: readFeed(text, cutOff) };
    } catch (error) {
      if (error instanceof FeedError) return { type: 'refused', code: error.code };
      throw error;
    }
  });
}
