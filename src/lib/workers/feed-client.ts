import { FeedError } from '$lib/core/feeds';
import type { FeedAnswer, FeedRequest, ReadFeed, ReadSubscriptions } from './feed-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, type Port, type Unnumbered } from './worker-client';

/** Milliseconds for the largest feed on a slow machine. */
const LIMIT = 60_000;

/** The worker that reads feeds; it starts with the first. */
export class FeedClient {
  private readonly client: WorkerClient<FeedRequest>;

  constructor(makePort: () => Port = () => newWorker('feed')) {
    this.client = new WorkerClient(makePort);
  }

  /** @param cutOff the text ends early. @throws {FeedError | WorkerError} */
  feed(content: string | Uint8Array, cutOff = false): Promise<ReadFeed> {
    return this.ask({ type: 'feed', content, cutOff });
  }

  /** @throws {FeedError | WorkerError} */
  subscriptions(content: string): Promise<ReadSubscriptions> {
    return this.ask({ type: 'subscriptions', content });
  }

  end(): void {
    this.client.end();
  }

  private async ask<Value>(request: Unnumbered<FeedRequest>): Promise<Value> {
    const answer = await this.client.ask<FeedAnswer<Value>>(request, { limit: LIMIT });
    if (answer.type === 'refused') throw new FeedError(answer.code);
    return answer.value;
  }
}
