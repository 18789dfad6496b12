import { expect, test } from 'vitest';
import { FeedError } from '../../src/lib/core/feeds';
import { FeedClient } from '../../src/lib/workers/feed-client';
import { serveFeeds } from '../../src/lib/workers/feed-service';
import { channel } from '../helpers/channel';

const client = () => new FeedClient(() => channel(serveFeeds));
const FEED =
  '<rss version="2.0"><channel><title>Slack Water</title><item><title>Fog</title>' +
  '<enclosure url="http://x/a.mp3" length="1" type="audio/mpeg"/></item></channel></rss>';

test('a feed is read by its worker, from text and from bytes', async () => {
  const facts = await client().feed(FEED);
  expect([facts.title, facts.episodes.map(({ title }) => title)]).toEqual(['Slack Water', ['Fog']]);
  expect(await client().feed(new TextEncoder().encode(FEED))).toEqual(facts);
});

test('why nothing can be had of it comes back as it was said', async () => {
  const refused = client().feed('<html><body>Skerry House</body></html>');
  await expect(refused).rejects.toBeInstanceOf(FeedError);
  await expect(refused).rejects.toMatchObject({ code: 'noFeed' });
});

test('subscriptions are read there, too', async () => {
  const list = '<opml><body><outline text="Slack Water" xmlUrl="http://x/feed"/></body></opml>';
  expect(await client().subscriptions(list)).toEqual([{ title: 'Slack Water', address: 'http://x/feed' }]);
});
