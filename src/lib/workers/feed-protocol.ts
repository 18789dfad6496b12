import type { FeedError, FeedFacts, readSubscriptions } from '$lib/core/feeds';

/** A feed, or a list of subscriptions, as text or as it came. */
export type FeedRequest = { readonly id: number } & (
  | { readonly type: 'feed'; readonly content: string | Uint8Array; readonly cutOff: boolean }
  | { readonly type: 'subscriptions'; readonly content: string }
);

/** What was asked for, or why nothing can be had of it: an error loses its code on the way. */
export type FeedAnswer<Value> =
  | { readonly type: 'read'; readonly value: Value }
  | { readonly type: 'refused'; readonly code: FeedError['code'] };

export type ReadFeed = FeedFacts;
export type ReadSubscriptions = ReturnType<typeof readSubscriptions>;
