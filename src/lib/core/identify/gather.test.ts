import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import type { Fields, Item } from '../items';
import { gather, toGatherItem, toLineFile, type Gathering } from './gather';
import { compareNames, readName } from './name-facts';

const at = (path: string, fields: Partial<Fields> = {}, rest: Partial<Item> = {}) =>
  makeItem(path, fields, { path, ...rest });
const gathered = (items: readonly Item[]): readonly Gathering[] => gather(items.map(toGatherItem));
const labels = (items: readonly Item[]) =>
  gathered(items).map(({ label, items: own }) => [label, own.length]);
const COMPLETE = { artist: ['Orla Venn'], albumArtist: 'Orla Venn', album: 'Wick', date: '2016' };

describe('files that likely belong together', () => {
  test('by their folder, a disc’s own folder counted to the one above', () => {
    expect(
      labels([at('Music/Box/CD1/01.mp3'), at('Music/Box/CD 2/01.mp3'), at('Music/Other/01.mp3')]),
    ).toEqual([
      ['Box', 2],
      ['Other', 1],
    ]);
  });

  test('by album and maker where files are thrown together, by counted names otherwise', () => {
    const wick = { album: 'Wick', albumArtist: 'Orla Venn' };
    expect(
      labels([
        at('Drop/x.mp3', wick),
        at('Drop/y.mp3', wick),
        at('Drop/z.mp3', { ...wick, albumArtist: 'Dag Holme' }),
        at('Drop/track_02.mp3'),
        at('Drop/track_10.mp3'),
      ]),
    ).toEqual([
      ['Wick', 2],
      ['Wick', 1],
      ['track_02 and 1 more', 2],
    ]);
  });

  test('by kind, films each alone, and by hand over everything', () => {
    const film = { settled: 'film' as const };
    expect(
      labels([at('Films/a.mkv', {}, film), at('Films/b.mkv', {}, film), at('Films/c.mp3')]),
    ).toHaveLength(3);
    const hand = { gathering: 'Mine' };
    expect(labels([at('a/1.mp3', {}, hand), at('b/2.mp3', { album: 'X' }, hand)])).toEqual([['Mine', 2]]);
  });

  test('home videos and ringtones have no reference', () =>
    expect(gathered([at('a.mp4', {}, { settled: 'homeVideo' })])).toEqual([]));

  test('in the order of their names, as people count', () => {
    const [set] = gathered(['a/10.mp3', 'a/9.mp3', 'a/00.mp3'].map((path) => at(path)));
    expect(set?.items).toEqual(['a/00.mp3', 'a/9.mp3', 'a/10.mp3']);
  });

  test('a file as long as all others together is told', () => {
    const items = [600, 200, 210, 190].map((durationSeconds, index) =>
      at(`a/${index}.mp3`, {}, { facts: { ...makeItem('x').facts, durationSeconds } }),
    );
    expect(gathered(items)[0]?.whole).toBe('a/0.mp3');
  });
});

describe('where a set stands', () => {
  const state = (items: readonly Item[]) => gathered(items)[0]?.state;
  const songs = (fields: Partial<Fields>) =>
    [1, 2].map((track) => at(`a/${track}.mp3`, { ...COMPLETE, title: `t${track}`, track, ...fields }));

  test('names and tags that say everything settle it without a question', () =>
    expect(state(songs({}))).toBe('said'));

  test.each([{ date: null }, { albumArtist: null }, { title: null }, { track: 1 }] as Partial<Fields>[])(
    'not so with %j',
    (fields) => expect(state(songs(fields))).toBe('waits'),
  );

  test('matched, left, and partly done', () => {
    const matched = {
      identity: { type: 'matched' as const, release: 'r', entry: 'e', source: 's', title: 't', at: 1 },
    };
    const left = { identity: { type: 'left' as const, at: 1 } };
    expect(state([at('a/1.mp3', {}, matched)])).toBe('matched');
    expect(state([at('a/1.mp3', {}, left)])).toBe('left');
    expect(gathered([at('a/1.mp3', {}, matched), at('a/2.mp3')])[0]).toMatchObject({
      state: 'waits',
      waiting: 1,
    });
  });
});

test.each([
  ['FERRY_INSP_S1_D2/title_03.mkv', 'FERRY INSP'],
  ['Music/The Tidewrack Choir/Low Water [Remaster] (2021)/01.mp3', 'The Tidewrack Choir Low Water'],
  ['Drop/x.mp3', 'x'],
])('%s is looked up as %j', (path, words) =>
  expect(gathered([at(path)])[0]?.words).toBe(words === 'x' ? '' : words),
);

describe('what a name says', () => {
  test.each([
    ['title_00.mkv', { number: 0, disc: null, title: null }],
    ['04 Kelp Road.flac', { number: 4, disc: null, title: 'Kelp Road' }],
    ['1-04 Kelp Road.flac', { number: 4, disc: 1, title: 'Kelp Road' }],
    ['The Ferry Inspector S01E07 Two Tickets.mkv', { number: 7, disc: 1, title: 'Two Tickets' }],
    ['audio_3.mp3', { number: 3, disc: null, title: null }],
    ['track_07(1).mp3', { number: 7, disc: null, title: null }],
    ['Kelp Road.mp3', { number: null, disc: null, title: 'Kelp Road' }],
    ['1984.mp3', { number: null, disc: null, title: null }],
  ])('%s', (name, facts) => expect(readName(name)).toEqual(facts));

  test('tags come first for a line-up, a disc’s folder fills in', () => {
    expect(toLineFile(at('Box/CD2/05 x.mp3', { title: 'Low Water', track: 7 }))).toMatchObject({
      title: 'Low Water',
      number: 7,
      disc: 2,
    });
  });

  test('names are ordered as people count', () =>
    expect(['b', 'a10', 'a9', 'a', 'A1'].sort(compareNames)).toEqual(['a', 'A1', 'a9', 'a10', 'b']));
});

test('a hundred thousand items are gathered in one pass', () => {
  const items = Array.from({ length: 100_000 }, (_, index) =>
    toGatherItem(at(`Music/A${index % 5000}/0${index}.mp3`)),
  );
  expect(gather(items)).toHaveLength(5000);
});
