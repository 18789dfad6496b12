import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import { editItem, fieldsOf, type Fields, type Item } from '../items';
import { LiveRows } from './live-rows';
import { OWN_ORDER, withoutArticle, type Sorting } from './order';

const some = (all: readonly Partial<Fields>[]) =>
  all.map((fields, index) => makeItem(`i${index}`, fields, { path: `a/${index}.flac` }));
function sorted(items: readonly Item[], sorting: Partial<Sorting>): Item[] {
  const live = new LiveRows();
  const query = { scope: { kind: null, text: '' }, levels: [], arrivals: [] };
  for (const _ of live.build(items, { ...query, sorting: { ...OWN_ORDER, ...sorting } })) void _;
  return [...live.items()];
}

describe('the order of items', () => {
  test('texts go by collation, numbers in them and numbers as numbers, what says nothing last both ways', () => {
    const items = some([
      { album: 'Ebb 10' },
      { album: 'ebb 9' },
      {},
      { album: 'Æbb' },
      { album: 'Élan' },
      { album: 'Ebb 9' },
    ]);
    const albums = (sorting: Partial<Sorting>) => sorted(items, sorting).map((item) => fieldsOf(item).album);
    expect(albums({ by: 'album' })).toEqual(['Æbb', 'ebb 9', 'Ebb 9', 'Ebb 10', 'Élan', null]);
    expect(albums({ by: 'album', down: true })).toEqual(['Élan', 'Ebb 10', 'Ebb 9', 'ebb 9', 'Æbb', null]);
    const tracks = some([{ track: 10 }, { track: 9 }, {}]);
    expect(sorted(tracks, { by: 'track' }).map((item) => fieldsOf(item).track)).toEqual([9, 10, null]);
  });

  test('articles count for nothing where that is wanted', () => {
    const items = some([
      { album: 'The Whole House' },
      { album: 'Tide' },
      { album: "L'Amer" },
      { album: 'The' },
    ]);
    const albums = (withoutArticles: boolean) =>
      sorted(items, { by: 'album', withoutArticles }).map((item) => fieldsOf(item).album);
    expect(albums(false)).toEqual(["L'Amer", 'The', 'The Whole House', 'Tide']);
    expect(albums(true)).toEqual(["L'Amer", 'The', 'Tide', 'The Whole House']);
    expect(withoutArticle('A Tide')).toBe('Tide');
    expect(withoutArticle('Theo')).toBe('Theo');
  });

  test('rows that were changed stand where they would stand if they were built anew', () => {
    const album = fc.constantFrom('Ebb', 'ebb', 'The Ebb', 'Flow', null);
    const sorting = fc.record({
      by: fc.constantFrom('album', 'track', 'title', null),
      down: fc.boolean(),
      withoutArticles: fc.boolean(),
    });
    const albumArtist = fc.constantFrom('Orla Venn', 'Dag Holme');
    const one = fc.record({ album, albumArtist, track: fc.option(fc.integer({ min: 1, max: 30 })) });
    fc.assert(
      fc.property(
        fc.array(one, { minLength: 1, maxLength: 20 }),
        one,
        fc.nat(),
        sorting,
        (all, next, nat, order) => {
          const items = some(all);
          const scope = { kind: null, text: '' };
          const built = (of: readonly Item[]) => {
            const rows = new LiveRows();
            for (const _ of rows.build(of, { scope, levels: ['albumArtist'], arrivals: [], sorting: order }))
              continue;
            return rows;
          };
          const at = nat % items.length;
          const before = items[at] as Item;
          const after = editItem(before, next);
          const live = built(items);
          live.change([{ before, after }]);
          const wanted = built(items.map((item) => (item === before ? after : item)));
          expect(live.items().map(({ id }) => id)).toEqual(wanted.items().map(({ id }) => id));
        },
      ),
      { seed: 8, numRuns: 500 },
    );
  });
});
