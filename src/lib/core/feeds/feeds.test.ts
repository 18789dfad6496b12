import { describe, expect, test } from 'vitest';
import { newEpisodes, renewFeed, type Feed, type FeedFacts, type FeedId } from './feed';
import { FeedError, plainWords, readFeed, readSubscriptions } from './read-feed';

/** Prefix of the open namespace for podcasts. */
const OPEN = 'podcast';
const item = (number: number, more = '') => `<item><title>Number ${number}</title><guid>g${number}</guid>
<pubDate>Fri, 0${number} May 2024 10:00:00 GMT</pubDate>
<enclosure url="/m/${number}.mp3" length="1200" type="audio/mpeg"/>${more}</item>`;
const rss = (inner: string, root = '') =>
  `<?xml version="1.0"?><rss version="2.0" xmlns:podcast="https://podcastindex.org/namespace/1.0" ${root}><channel><title>Slack &amp; Water</title>${inner}</channel></rss>`;

test('show and episodes are read, with season, number, people, chapters and plain words', () => {
  const more = `<podcast:season>3</podcast:season><podcast:episode>31</podcast:episode>
<podcast:person>Brita Dahl</podcast:person><${OPEN}:chapters url="/c.json" type="application/json"/>
<podcast:transcript url="/t.vtt" type="text/vtt"/>
<description><![CDATA[<p>One &amp; two</p><ul><li>three</li></ul><script>alert(1)</script>]]></description>`;
  const { title, episodes, warnings } = readFeed(rss(item(1, more)));
  expect([title, warnings]).toEqual(['Slack & Water', []]);
  expect(episodes).toEqual([
    {
      guid: 'g1',
      title: 'Number 1',
      season: 3,
      number: 31,
      date: '2024-05-01',
      description: 'One & two\n\n- three',
      people: ['Brita Dahl'],
      url: '/m/1.mp3',
      bytes: 1200,
      extension: 'mp3',
      chaptersUrl: '/c.json',
      transcriptUrl: '/t.vtt',
      pictureUrl: null,
    },
  ]);
});

test('elements of other namespaces count by their local names', () => {
  const space = 'xmlns:dc="http://purl.org/dc/elements/1.1/"';
  const { maker } = readFeed(rss(`<dc:creator>Skarra Radio</dc:creator>${item(1)}`, space));
  expect(maker).toBe('Skarra Radio');
});

describe('a damaged feed gives what can be had', () => {
  test('one that is torn off', () => {
    const { episodes, warnings } = readFeed(rss(item(1) + item(2) + item(3)).slice(0, -120));
    expect(episodes.map(({ guid }) => guid)).toEqual(['g1', 'g2']);
    expect(warnings.map(({ code }) => code)).toContain('malformed');
  });

  test('one cut off for its size', () => {
    const { episodes, warnings } = readFeed(rss(item(1) + item(2)).slice(0, -60), true);
    expect(episodes).toHaveLength(1);
    expect(warnings).toEqual([{ code: 'cutOff', count: 1 }]);
  });

  test('entities are not expanded, and told', () => {
    const bomb = `<?xml version="1.0"?><!DOCTYPE rss [<!ENTITY a "gull"><!ENTITY b "&a;&a;">]>${rss(item(1)).slice(21)}`;
    const { warnings, title } = readFeed(bomb.replace('Slack &amp; Water', 'x &b;'));
    expect(warnings).toContainEqual({ code: 'entities', count: 2 });
    expect(title).not.toContain('gull');
  });

  test('an episode without sound is none, one named twice counts once', () => {
    expect(readFeed(rss('<item><title>words only</title></item>' + item(1) + item(1))).episodes).toHaveLength(
      1,
    );
  });

  test.each([
    ['not xml at all', 'notXml'],
    ['<html><body>moved</body></html>', 'noFeed'],
    ['<rss version="2.0"><channel></channel></rss>', 'noEpisodes'],
  ])('%j says why not', (text, code) => {
    expect(() => readFeed(text)).toThrow(FeedError);
    expect(() => readFeed(text)).toThrow(code);
  });
});

test('a feed read again keeps what was fetched, and knows the new', () => {
  const facts: FeedFacts = readFeed(rss(item(1) + item(2)));
  const feed: Feed = {
    ...facts,
    id: 'f' as FeedId,
    address: '/f',
    checkedAt: 1,
    fetched: ['g1'],
    passed: ['g2'],
  };
  const again = renewFeed(feed, readFeed(rss(item(3) + item(2))), 5);
  expect(again.episodes.map(({ guid }) => guid)).toEqual(['g3', 'g2', 'g1']);
  expect(newEpisodes(again).map(({ guid }) => guid)).toEqual(['g3']);
});

test('subscriptions come out of an OPML file, folders opened', () => {
  const opml =
    '<opml version="2.0"><head/><body><outline text="talk"><outline type="rss" text="Slack Water" xmlUrl="/feeds/slack-water"/></outline></body></opml>';
  expect(readSubscriptions(opml)).toEqual([{ title: 'Slack Water', address: '/feeds/slack-water' }]);
  expect(() => readSubscriptions('nothing')).toThrow(FeedError);
});

test.each([
  ['a<br>b', 'a\nb'],
  ['&#8212;&#x41;&unknown;', '—A&unknown;'],
  ['   ', null],
])('%j reads %j', (html, text) => expect(plainWords(html)).toBe(text));
