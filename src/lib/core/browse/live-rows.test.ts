import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import type { Item, ItemId } from '../items';
import { LiveRows, OWN_ORDER, type Level, type Row, type Sorting } from './index';
import type { RowsQuery } from './live-rows';

const ALL: RowsQuery = { scope: { kind: null, text: '' }, levels: [], arrivals: [] };
const tell = (row: Row) =>
  row.type === 'item'
    ? [row.key, row.item.path, row.item.file.fields.title]
    : [row.key, row.label, row.items.map(({ id }) => id), row.counts.items, row.counts.gaps];

function laid(items: readonly Item[], query: Partial<RowsQuery>): LiveRows {
  const live = new LiveRows();
  for (const _ of live.build(items, { ...ALL, ...query })) void _;
  return live;
}

const counts = (live: LiveRows) => {
  const { items, bytes, waiting, kinds } = live.counts();
  return [items, bytes, waiting, [...kinds].sort()];
};

const song = (id: string, genre: string[] | null, artist: string[] = ['Orla Venn']) =>
  makeItem(id, { title: id, genre, artist });

test('an item stands under each of its values, and is one item all the same', () => {
  const items = [song('a', ['Ambient', 'Chanson']), song('b', ['Chanson']), song('c', null)];
  const live = laid(items, { levels: ['genre'] });
  expect(live.rows(new Set()).map((row) => (row.type === 'group' ? `> ${row.label}` : row.item.id))).toEqual([
    '> Ambient',
    'a',
    '> Chanson',
    'a',
    'b',
    '> Unknown genre',
    'c',
  ]);
  expect(live.items().map(({ id }) => id)).toEqual(['a', 'b', 'c']);
  expect(live.counts().items).toBe(3);
  const keys = live.rows(new Set()).map(({ key }) => key);
  expect(new Set(keys).size).toBe(keys.length);
});

test('two spellings of one value are one group, which goes by the first of them', () => {
  const rows = laid([song('a', ['Folk', 'folk']), song('b', ['folk'])], { levels: ['genre'] }).rows(
    new Set(),
  );
  expect(rows.map((row) => (row.type === 'group' ? row.label : row.key))).toEqual(['Folk', 'a', 'b']);
});

test('a group whose items are all spelled otherwise goes by that', () => {
  const before = song('a', ['folk']);
  const live = laid([before], { levels: ['genre'] });
  live.change([{ before, after: song('a', ['Folk']) }]);
  expect(live.rows(new Set())[0]).toMatchObject({ label: 'Folk' });
});

test('what counts as a gap is counted anew where it is another matter', () => {
  let gaps = 1;
  const live = new LiveRows(() => gaps);
  const items = [song('a', null)];
  for (const _ of live.build(items, ALL)) void _;
  gaps = 3;
  live.recount();
  for (const _ of live.build(items, ALL)) void _;
  expect(live.counts().gaps).toBe(3);
});

test('an order that is prepared while items change holds them as they are then', () => {
  const items = Array.from({ length: 3000 }, (_, at) => song(`i${at}`, null));
  const live = laid(items, {});
  const byTitle: Sorting = { ...OWN_ORDER, by: 'title' };
  const preparing = live.prepare([byTitle]);
  for (let step = 0; step < 33; step++) preparing.next();
  const [before] = items as [Item];
  const after = makeItem('i0', { title: 'zz' });
  live.change([{ before, after }]);
  for (const _ of preparing) void _;
  const now = [after, ...items.slice(1)];
  for (const _ of live.build(now, { ...ALL, sorting: byTitle })) void _;
  expect(live.items().map(({ id }) => id)).toEqual(
    laid(now, { sorting: byTitle })
      .items()
      .map(({ id }) => id),
  );
  expect(live.items().at(-1)?.file.fields.title).toBe('zz');
});

test('whatever was looked at before, rows are those that are made anew', () => {
  const word = fc.constantFrom('Wick', 'Ebb', 'kelp', 'Élan', 'Ebb 10', 'ebb 9');
  const item = fc
    .record({
      id: fc.nat(9),
      title: word,
      album: fc.option(word),
      genre: fc.option(fc.uniqueArray(word, { minLength: 1, maxLength: 3 })),
      artist: fc.uniqueArray(word, { minLength: 1, maxLength: 2 }),
      track: fc.option(fc.nat(3)),
    })
    .map(({ id, ...fields }) => makeItem(`i${id}`, fields, { path: `m/${fields.title}/${id}.flac` }));
  const levels = fc.constantFrom<Level[]>(
    [],
    ['genre'],
    ['genre', 'artist'],
    ['release'],
    ['release', 'genre'],
  );
  const sorting: fc.Arbitrary<Sorting> = fc.record({
    by: fc.constantFrom('title', 'track', 'genre', null),
    down: fc.boolean(),
    withoutArticles: fc.boolean(),
  });
  const scope = fc.constantFrom(
    { kind: null, text: '' },
    { kind: null, text: 'ebb' },
    { kind: null, text: 'track is 2' },
  );
  const step = fc.oneof(
    fc.record({ levels, sorting, scope, strips: fc.boolean() }),
    fc.array(fc.tuple(item, fc.boolean()), { maxLength: 12 }),
    fc.constant('prepare' as const),
  );
  fc.assert(
    fc.property(
      fc.uniqueArray(item, { selector: ({ id }) => id }),
      fc.array(step, { maxLength: 8 }),
      (first, steps) => {
        const live = new LiveRows();
        let query: RowsQuery = ALL;
        const now = new Map<ItemId, Item>(first.map((one) => [one.id, one]));
        for (const _ of live.build(first, query)) void _;
        for (const one of steps) {
          if (one === 'prepare')
            for (const _ of live.prepare([OWN_ORDER, { ...OWN_ORDER, by: 'title' }])) void _;
          else if (Array.isArray(one)) {
            const once = [...new Map(one.map((entry) => [entry[0].id, entry])).values()];
            live.change(
              once.map(([after, leaves]) => {
                const before = now.get(after.id) ?? null;
                if (leaves) now.delete(after.id);
                else now.set(after.id, after);
                return { before, after: leaves ? null : after };
              }),
            );
          } else {
            query = { ...ALL, ...one };
            for (const _ of live.build([...now.values()], query)) void _;
          }
          const anew = laid([...now.values()], query);
          expect(live.rows(new Set()).map(tell)).toEqual(anew.rows(new Set()).map(tell));
          expect(live.items().map(({ id }) => id)).toEqual(anew.items().map(({ id }) => id));
          expect(counts(live)).toEqual(counts(anew));
        }
      },
    ),
    { seed: 29, numRuns: 1500 },
  );
});
