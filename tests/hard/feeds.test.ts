import { expect, test } from 'vitest';
import { FeedError, readFeed } from '../../src/lib/core/feeds';
import { TRIAL_TIME, tell } from './size';

/** Milliseconds of computing that no feed may pass, whatever it is. */
const MOST_MS = 2000;

function computing(act: () => unknown): number {
  const before = process.cpuUsage();
  act();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}

const head = '<rss version="2.0"><channel><title>Slack Water</title>';
const end = '</channel></rss>';
const item = '<item><title>x</title><enclosure url="http://x/a.mp3" length="1" type="audio/mpeg"/></item>';

const FEEDS: readonly (readonly [string, string])[] = [
  ['items that are never closed', head + '<item>'.repeat(150_000)],
  ['items that are never closed, with an end', head + '<item>'.repeat(150_000) + end],
  ['items that are closed once', `${head}${'<item>'.repeat(150_000)}</item>${end}`],
  ['items that close and never open', head + '</item>'.repeat(150_000) + end],
  [
    'a description of marks that stay open',
    `${head}<description>${'&lt;'.repeat(150_000)}</description>${end}`,
  ],
  [
    'a description of scripts that stay open',
    `${head}<description>${'&lt;script '.repeat(60_000)}</description>${end}`,
  ],
  ['blanks behind the end', head + item + end + ' '.repeat(500_000) + 'x'],
  ['a document type without an end', `<!DOCTYPE rss [${'<!ENTITY a "b">'.repeat(50_000)}${head}${end}`],
];

test.each(FEEDS)('a feed of %s is read, or refused, in time', { timeout: TRIAL_TIME }, (name, text) => {
  const ms = computing(() => {
    try {
      readFeed(text);
    } catch (error) {
      if (!(error instanceof FeedError)) throw error;
    }
  });
  expect(ms).toBeLessThan(MOST_MS);
  tell(`feeds: ${name}`, { ms: Math.round(ms), failures: 0 });
});

test('an episode that is closed is had, however many before it are not', () => {
  const { episodes, warnings } = readFeed(
    `${head}${'<item>'.repeat(1000)}${item}${item.replace('a.mp3', 'b.mp3')}${end}`,
  );
  expect(episodes.map(({ url }) => url)).toEqual(['http://x/a.mp3', 'http://x/b.mp3']);
  expect(warnings.map(({ code }) => code)).toContain('malformed');
});
