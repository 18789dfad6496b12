import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makeAlbum, makeItem, planItem } from '../../../../tests/helpers/items';
import {
  editContent,
  editItem,
  type Arrival,
  type ArrivalId,
  type Item,
  type ItemId,
  type PictureId,
  type SourceId,
} from '../items';
import { SELECT_ALL, selectionTest } from '../plan';
import { LiveRows, Tally, asked, inScope, type ItemChange, type Level, type Row, type Scope } from './index';
import { sortSteps } from './sort-steps';

const arrivals: Arrival[] = [
  {
    id: 'arrival' as ArrivalId,
    source: 's' as SourceId,
    origin: 'folder' as const,
    label: 'drop',
    at: 5,
    unread: [],
    setAside: 0,
  },
];
/** Rows made at once. */
function toRows(
  of: readonly Item[],
  levels: readonly Level[],
  arrived: readonly Arrival[],
  closed: ReadonlySet<string>,
  scope: Scope = { kind: null, text: '' },
): readonly Row[] {
  const live = new LiveRows();
  for (const _ of live.build(of, { scope, levels, arrivals: arrived })) void _;
  return live.rows(closed);
}
const drawn = (rows: readonly Row[]) =>
  rows.map((row) => (row.type === 'group' ? `${'>'.repeat(row.depth + 1)} ${row.label}` : row.key));
const items = [
  ...makeAlbum(2),
  makeItem('loose', { title: 'Loose' }),
  makeItem('book', { album: 'Almanac' }, { settled: 'audiobook' }),
];

test('a scope narrows by kind and by words in any field', () => {
  expect(inScope(items, { kind: 'audiobook', text: '' }).map(({ id }) => id)).toEqual(['book']);
  expect(inScope(items, { kind: null, text: 'tidewrack song-2' }).map(({ id }) => id)).toEqual(['song-2']);
  expect(inScope(items, { kind: null, text: '  ' })).toHaveLength(4);
});

test('a bitrate is that of the sound, here and for a player', () => {
  const [song] = makeAlbum(1) as [Item];
  const withPicture = {
    ...song,
    size: 5_000_000,
    facts: { ...song.facts, durationSeconds: 200, soundBytes: 3_200_000 },
  };
  const query = 'bitrate < 130';
  expect(inScope([withPicture], { kind: null, text: query })).toHaveLength(1);
  expect(inScope([{ ...withPicture, facts: song.facts }], { kind: null, text: query })).toHaveLength(0);
  const isSelected = selectionTest({ ...SELECT_ALL, text: query });
  expect(isSelected(planItem(withPicture))).toBe(true);
});

test('pictures are counted as they go out', () => {
  const picture = { id: 'p' as PictureId, mime: 'image/jpeg', bytes: 1, width: 9, height: 9 };
  const [song] = makeAlbum(1) as [Item];
  const both = editContent(song, { pictures: { back: picture } });
  expect([song, both].map((one) => asked(one).pictures)).toEqual([1, 2]);
  const instead = editContent(song, { pictures: { front: picture } });
  expect(asked(instead).pictures).toBe(1);
});

test('counts follow every change', () => {
  const tally = new Tally(({ edits }) => Object.keys(edits).length);
  tally.change(items.map((after) => ({ before: null, after })));
  expect([...tally.counts().kinds]).toEqual([
    ['song', 3],
    ['audiobook', 1],
  ]);
  const [first] = items as [Item];
  const open = {
    ...editItem(first, { title: 'x' }),
    settled: null,
    guess: { ...first.guess, kind: null, certainty: 'open' as const },
  };
  tally.change([{ before: first, after: open }]);
  const now = tally.counts();
  expect([now.kinds.get('song'), now.kinds.get('open'), now.waiting, now.gaps]).toEqual([2, 1, 1, 1]);
  const same = { ...open, facts: { ...open.facts, sameAs: { item: items[1]?.id as ItemId, modified: 1 } } };
  tally.change([{ before: open, after: same }]);
  expect(tally.counts().doubles).toBe(1);
  tally.change([{ before: same, after: null }]);
  expect(tally.counts().doubles).toBe(0);
  const { kinds, waiting, gaps } = tally.counts();
  expect([kinds.has('open'), waiting, gaps]).toEqual([false, 0, 0]);
});

test('groups come in order, "unknown" last, songs by track', () => {
  expect(drawn(toRows([...items].reverse(), ['release'], arrivals, new Set()))).toEqual([
    '> Almanac',
    'book',
    '> Salt Ledger',
    'song-1',
    'song-2',
    '> No album',
    'loose',
  ]);
});

test('levels nest, and what is closed is left out', () => {
  const open = toRows(items, ['kind', 'release'], arrivals, new Set());
  const closed = new Set(
    open.filter((row) => row.type === 'group' && row.label === 'Salt Ledger').map(({ key }) => key),
  );
  const rows = toRows(items, ['kind', 'release'], arrivals, closed);
  expect(drawn(rows)).toEqual([
    '> songs',
    '>> Salt Ledger',
    '>> No album',
    'loose',
    '> audiobooks',
    '>> Almanac',
    'book',
  ]);
});

test('an album that is there twice tells where each lies, as long as it is there twice', () => {
  const at = (path: string, edition: string | null = null) =>
    makeItem(path, { album: 'Salt Ledger', albumArtist: 'The Choir', edition }, { path });
  const live = new LiveRows();
  const query = { scope: { kind: null, text: '' }, levels: ['release'] as const, arrivals: [] };
  for (const _ of live.build([at('Music/a/1.flac'), at('Music/c/1.flac', 'live')], query)) void _;
  const apart = () => live.rows(new Set()).flatMap((row) => (row.type === 'group' ? [row.apart] : []));
  expect(apart()).toEqual(['Music/a', 'live, Music/c']);
  live.change([{ before: at('Music/c/1.flac', 'live'), after: null }]);
  const [alone] = live.rows(new Set());
  expect(apart()).toEqual(['']);
  live.change([{ before: null, after: at('b/1.flac') }]);
  expect(apart()).toEqual(['Music/a', 'b']);
  // What is shown of the first is drawn anew, though nothing in it has changed.
  expect(live.rows(new Set())[0]).not.toBe(alone);
});

test('an arrival is known by its label', () =>
  expect(drawn(toRows(items, ['arrival', 'none'], arrivals, new Set()))[0]).toBe('> drop'));

test('rows that follow changes are those that are made anew', () => {
  const word = fc.constantFrom('Wick', 'Ebb', 'kelp', 'Salt Ledger');
  const item = fc
    .record({
      id: fc.nat(12),
      album: fc.option(word),
      title: word,
      track: fc.option(fc.nat(3)),
      folder: word,
      book: fc.boolean(),
    })
    .map(({ id, album, title, track, folder, book }) =>
      makeItem(
        `i${id}`,
        { album, title, track },
        { path: `${folder}/${id}.flac`, settled: book ? 'audiobook' : 'song' },
      ),
    );
  const levels = fc.constantFrom<Level[]>(
    ['release', 'none'],
    ['kind', 'release'],
    ['folder', 'kind'],
    ['none', 'none'],
  );
  const scope = fc.constantFrom<Scope>(
    { kind: null, text: '' },
    { kind: 'song', text: '' },
    { kind: null, text: 'wick' },
  );
  const batches = fc.array(fc.array(fc.tuple(item, fc.boolean()), { maxLength: 14 }), { maxLength: 5 });
  fc.assert(
    fc.property(
      fc.uniqueArray(item, { selector: ({ id }) => id }),
      batches,
      levels,
      scope,
      (first, changes, by, narrowed) => {
        const live = new LiveRows();
        const query = { scope: narrowed, levels: by, arrivals: [] };
        for (const _ of live.build(first, query)) void _;
        const now = new Map<string, Item>(first.map((one) => [one.id, one]));
        for (const batch of changes) {
          const once = [...new Map(batch.map((entry) => [entry[0].id, entry])).values()];
          live.change(
            once.map(([one, leaves]): ItemChange => {
              const before = now.get(one.id) ?? null;
              if (leaves) now.delete(one.id);
              else now.set(one.id, one);
              return { before, after: leaves ? null : one };
            }),
          );
          const anew = toRows([...now.values()], by, [], new Set(), narrowed);
          expect(live.rows(new Set()).map(told)).toEqual(anew.map(told));
          const shown = anew.flatMap((row) => (row.type === 'item' ? [row.item] : []));
          expect([live.counts().items, live.counts().bytes]).toEqual([
            shown.length,
            shown.reduce((sum, { size }) => sum + size, 0),
          ]);
        }
      },
    ),
    { seed: 8, numRuns: 500 },
  );
});

const told = (row: Row) =>
  row.type === 'item'
    ? [row.key, row.item.path]
    : [
        row.key,
        row.label,
        row.note,
        row.apart,
        row.items.map(({ id }) => id),
        row.counts.items,
        row.counts.waiting,
      ];

test('sorting in steps is sorting', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(9), fc.nat())), fc.integer({ min: 1, max: 7 }), (list, atOnce) => {
      const sorted = [...list];
      for (const _ of sortSteps(sorted, (a, b) => a[0] - b[0], atOnce)) void _;
      expect(sorted).toEqual([...list].sort((a, b) => a[0] - b[0]));
    }),
    { seed: 8 },
  );
});
