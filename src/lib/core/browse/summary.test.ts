import { describe, expect, test } from 'vitest';
import { makeAlbum, makeItem } from '../../../../tests/helpers/items';
import { FIELD_NAMES, editItem, putBack, type FieldName, type Item } from '../items';
import { summarize, summarySteps } from './summary';

const ALL_PLACES: ReadonlySet<FieldName> = new Set(FIELD_NAMES);
const NO_PLACES: ReadonlySet<FieldName> = new Set();
const written = () => ALL_PLACES;
const sharedOf = (items: readonly Item[], field: 'album' | 'date') =>
  summarize(items, written).fields.get(field)?.shared;

describe('a selection summed up', () => {
  const items = makeAlbum(4);

  test('a shared value', () =>
    expect(sharedOf(items, 'album')).toEqual({ type: 'same', value: 'Salt Ledger' }));

  test('a differing one says how many, and never stands as a blank', () => {
    const mixed = [...items.slice(0, 3), editItem(items[3] as Item, { date: '2001' }), makeItem('none')];
    expect(sharedOf(mixed, 'date')).toEqual({
      type: 'differs',
      usual: '2019',
      usualCount: 3,
      others: 1,
      empty: 1,
      isOwn: false,
      values: [
        { value: '2019', count: 3 },
        { value: '2001', count: 1 },
      ],
    });
    const mostlyEmpty = [makeItem('a'), makeItem('b'), editItem(makeItem('c'), { date: '2001' })];
    expect(sharedOf(mostlyEmpty, 'date')).toMatchObject({ usual: '2001', usualCount: 1, empty: 2 });
  });

  test('what was edited is counted, emptied fields too, and what no tag will hold', () => {
    const [first, second, ...rest] = items as [Item, Item, ...Item[]];
    const edited = [editItem(first, { album: null }), editItem(second, { album: 'Other' }), ...rest];
    const { fields } = summarize(edited, () => NO_PLACES);
    expect(fields.get('album')).toMatchObject({
      edited: 2,
      unheld: items.length,
      shared: { others: 1, empty: 1 },
    });
    const back = edited.map((item) => putBack(item, { fields: ['album'] }));
    expect(summarize(back, () => NO_PLACES).fields.get('album')).toMatchObject({ edited: 0 });
  });

  test('pictures, kinds, length and size of all', () => {
    const bare = makeItem(
      'bare',
      {},
      { settled: 'film', file: { ...makeItem('x').file, pictures: [] }, size: 7 },
    );
    const sum = summarize([...items, bare], written);
    expect(sum.pictures).toMatchObject([{ count: 4, first: items[0] }]);
    expect(sum.withoutPicture).toBe(1);
    expect(sum.bytes).toBe(items.reduce((all, { size }) => all + size, 7));
    expect(sum.kinds.get('film')).toBe(1);
    expect([...sum.kinds.values()].reduce((all, count) => all + count)).toBe(5);
  });

  test('in steps it is the same as at once', () => {
    const many = Array.from({ length: 600 }, (_, index) => makeItem(`i${index}`, { title: `T${index % 7}` }));
    const steps = summarySteps(many, written);
    let turns = 0;
    let step = steps.next();
    for (; !step.done; step = steps.next()) turns++;
    expect(turns).toBe(1);
    expect(step.value).toEqual(summarize(many, written));
  });
});
