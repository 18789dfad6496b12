import { describe, expect, test } from 'vitest';
import { HOUSEHOLD } from '../../server/reference/household';
import { rankCandidates } from './candidates';
import type { LineFile } from './evidence';
import { likeness, holdsLikeness, plainText } from './likeness';
import { entriesInOrder, readReleases, type ReferenceRelease } from './reference';
import { factsFor } from './take';

const file = (id: string, number: number, lengthSeconds: number): LineFile => ({
  id,
  stem: id,
  title: null,
  number,
  disc: null,
  lengthSeconds,
  heard: null,
});
const releaseOf = (id: string) => HOUSEHOLD.find((release) => release.id === id) as ReferenceRelease;
const FERRY = [1512, 1498, 1601, 1437, 1530, 1504].map((seconds, index) =>
  file(`title_0${index + 1}`, index + 1, seconds),
);

describe('what a set could be', () => {
  const ranked = rankCandidates(
    FERRY,
    'FERRY INSP',
    HOUSEHOLD.filter(({ type }) => type === 'series'),
  );

  test('the season in its orders comes first, each with reasons that add up', () => {
    expect(ranked[0]?.release.title).toBe('The Ferry Inspector');
    for (const { score, reasons } of ranked)
      expect(Math.round(reasons.reduce((sum, { points }) => sum + points, 0))).toBe(score);
    expect(ranked.map(({ score }) => score)).toEqual(
      [...ranked.map(({ score }) => score)].sort((a, b) => b - a),
    );
  });

  test('disc order stands straight, aired order says what is out of it', () => {
    const order = (name: 'disc' | null) =>
      ranked
        .find(({ release, order: own }) => release.id === 'ferry-inspector-1-7' && own === name)
        ?.reasons.find(({ code }) => code === 'order')?.detail[0];
    expect(order('disc')).toBe(0);
    expect(order(null)).toBe(1);
  });

  test('the same release named twice counts once', () => {
    const album = releaseOf('salt-ledger');
    const files = album.entries.map(({ lengthSeconds }, index) =>
      file(`f${index}`, index + 1, lengthSeconds ?? 0),
    );
    expect(rankCandidates(files, 'Salt Ledger', [album, album])).toHaveLength(1);
  });
});

test('an order renumbers the entries and keeps them', () => {
  const season = releaseOf('ferry-inspector-1');
  const pressed = entriesInOrder(season, 'disc');
  expect(pressed.slice(8, 10).map(({ title, number }) => [title, number])).toEqual([
    ['A Question of Ballast', 9],
    ['Fog in the Ledger', 10],
  ]);
  expect(entriesInOrder(season, null)).toBe(season.entries);
});

describe('an answer of the reference is checked', () => {
  const good = releaseOf('salt-ledger');

  test('what is malformed is left out and counted', () => {
    const answer = { releases: [good, { ...good, id: 7 }, null, { title: 'x' }] };
    expect(readReleases(answer)).toEqual({ releases: [good], dropped: 3 });
  });

  test('a flood is cut', () => {
    const { releases, dropped } = readReleases({ releases: Array.from({ length: 5000 }, () => good) });
    expect([releases.length, dropped]).toEqual([40, 4960]);
  });

  test.each([null, {}, [], { releases: 'none' }])('%j is no answer', (answer) =>
    expect(() => readReleases(answer)).toThrow(TypeError),
  );
});

describe('likeness', () => {
  test.each([
    ['Kelp Road', 'kelp  road', 1],
    ['Ødegård', 'Ødegård', 1],
    ['The Purser’s Cat', 'the pursers cat', 1],
    ['', 'x', 0],
  ])('%s and %s', (a, b, alike) => expect(likeness(a, b)).toBe(alike));

  test('near names are near, others are not', () => {
    expect(likeness('The Unclaimed Trunk', 'The Unclamed Trunk')).toBeGreaterThan(0.85);
    expect(likeness('Low Season', 'Car Deck')).toBeLessThan(0.3);
    expect(holdsLikeness('Tidewrack Choir - Low Water', 'Low Water')).toBeGreaterThan(0.8);
    expect(plainText('Low Water [Remastered] (1080p)')).toBe('low water');
  });
});

describe('what an entry says of its file', () => {
  const all = (release: ReferenceRelease, index: number) =>
    factsFor(
      release,
      release.entries[index] as never,
      new Set([
        'title',
        'albumArtist',
        'album',
        'edition',
        'show',
        'season',
        'episode',
        'track',
        'tracks',
        'narrator',
        'date',
        'artist',
      ]),
    );

  test('a song', () =>
    expect(all(releaseOf('salt-ledger-remaster'), 2)).toMatchObject({
      title: 'The Harbour Clerk',
      artist: ['The Tidewrack Choir with Orla Venn'],
      albumArtist: 'The Tidewrack Choir',
      album: 'Salt Ledger',
      edition: 'Remaster',
      track: 3,
      tracks: 6,
    }));

  test('an episode', () =>
    expect(all(releaseOf('ferry-inspector-2'), 0)).toMatchObject({
      title: 'The New Vessel',
      show: 'The Ferry Inspector',
      season: 2,
      episode: 1,
      date: expect.stringMatching(/^2018-/) as string,
    }));

  test('a chapter of a book, and only the fields that were chosen', () => {
    expect(all(releaseOf('wreckmasters-daughters'), 0)).toMatchObject({
      narrator: ['Tove Askeland'],
      track: 1,
      tracks: 10,
    });
    const book = releaseOf('wreckmasters-daughters');
    expect(factsFor(book, book.entries[1] as never, new Set(['title']))).toEqual({ title: 'Marit' });
  });
});
