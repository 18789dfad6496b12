import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import { editItem, type Fields, type Item } from '../items';
import type { Kind } from '../kinds';
import { ASPECTS, FullnessTally, LiveRows, fullnessOf, lacks, type GroupSortKey } from './index';

const settled = (kind: Kind, fields: Partial<Fields>, id = 'x') => makeItem(id, fields, { settled: kind });
const lacking = (item: Item) => ASPECTS.filter((aspect) => lacks(item, aspect));

test('what is not asked of a kind is no gap', () => {
  expect(lacking(settled('song', { title: 'Ebb', artist: ['Orla Venn'] }))).toEqual([
    'release',
    'number',
    'year',
    'genre',
    'words',
  ]);
  expect(lacking(settled('ringtone', { title: 'Bell' }))).toEqual(['maker']);
  expect(lacking(settled('episode', { title: 'One', show: 'Ferry', episode: 1 }))).toEqual([
    'year',
    'genre',
    'words',
  ]);
});

test('a book is put in order by its chapters or by numbers, and lacks both only where it has neither', () => {
  const book = settled('audiobook', { title: 'Almanac' });
  expect(lacking(book)).toEqual(expect.arrayContaining(['number', 'chapters']));
  expect(lacking(editItem(book, { track: 2 }))).not.toContain('chapters');
  const chapters = [{ startSeconds: 0, endSeconds: null, title: 'One', link: null }];
  const withChapters: Item = { ...book, file: { ...book.file, chapters } };
  expect(lacking(withChapters)).not.toContain('number');
  expect(fullnessOf(withChapters).filled).toBeGreaterThan(fullnessOf(book).filled);
});

const album = fc.constantFrom('Ebb', 'Flow', 'Wick', null);
const one = fc.record({
  album,
  genre: fc.constantFrom(['folk'], null),
  track: fc.option(fc.nat(9)),
  date: fc.constantFrom('2019', null),
});
const kind = fc.constantFrom<Kind>('song', 'film', 'audiobook', 'ringtone');

test('strips and their order follow changes as if they were made anew', () => {
  const by = fc.constantFrom<GroupSortKey>('name', 'items', 'full', 'genre', 'chapters');
  fc.assert(
    fc.property(
      fc.array(fc.tuple(one, kind), { minLength: 1, maxLength: 20 }),
      fc.tuple(one, kind),
      fc.nat(),
      by,
      fc.boolean(),
      (all, [fields, to], nat, key, down) => {
        const items = all.map(([own, of], index) => settled(of, own, `i${index}`));
        const built = (of: readonly Item[]) => {
          const rows = new LiveRows();
          const query = {
            scope: { kind: null, text: '' },
            levels: ['release'] as const,
            arrivals: [],
            strips: true,
            groupSorting: { by: key, down },
          };
          for (const _ of rows.build(of, query)) void _;
          return rows;
        };
        const told = (rows: LiveRows) =>
          rows.rows(new Set(), new Set()).map((row) => {
            if (row.type !== 'group' || !row.fullness) throw new Error('all releases are closed');
            return [row.key, row.closed, row.fullness.asked, row.fullness.filled, row.fullness.share()];
          });
        const before = items[nat % items.length] as Item;
        const after = { ...editItem(before, fields), settled: to };
        const live = built(items);
        live.change([{ before, after }]);
        const anew = built(items.map((item) => (item === before ? after : item)));
        expect(told(live)).toEqual(told(anew));
        expect(live.items().map(({ id }) => id)).toEqual(anew.items().map(({ id }) => id));
      },
    ),
    { seed: 12, numRuns: 500 },
  );
});

test('those that are not asked come last in both directions', () => {
  const items = [
    settled('film', { album: 'A', title: 'x' }, 'a'),
    settled('song', { album: 'B', title: 'x', track: 1 }, 'b'),
    settled('song', { album: 'C', title: 'x' }, 'c'),
  ];
  const albums = (down: boolean) => {
    const rows = new LiveRows();
    const groupSorting = { by: 'number' as const, down };
    const query = {
      scope: { kind: null, text: '' },
      levels: ['release'] as const,
      arrivals: [],
      strips: true,
    };
    for (const _ of rows.build(items, { ...query, groupSorting })) void _;
    return rows.rows(new Set(), new Set()).map((row) => (row.type === 'group' ? row.label : ''));
  };
  expect(albums(false)).toEqual(['C', 'B', 'A']);
  expect(albums(true)).toEqual(['B', 'C', 'A']);
});

test('nothing asked is as good as all of it', () => {
  const tally = new FullnessTally();
  expect([tally.share(), tally.shareOf('genre')]).toEqual([1, null]);
});
