import { expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import type { ItemId } from '$lib/core/items';
import type { ListEntry } from '$lib/core/lists';
import { foundRows, handRows, positionsOf } from './list-rows';

const items = new Map(
  ['a', 'b', 'c'].map((name) => [name as ItemId, makeItem(name, { title: name }, { id: name as ItemId })]),
);
const find = (id: ItemId) => items.get(id) ?? null;
const entry = (id: string): ListEntry => ({ item: id as ItemId });
const open = { path: 'x.mp3', title: null, artist: null, seconds: 9 };

test('suites have a head where they have a name or several entries', () => {
  const suites = [
    { name: null, entries: [entry('a'), entry('gone')] },
    { name: null, entries: [entry('b')] },
    { name: 'On deck', entries: [{ open }] },
  ];
  const rows = handRows({ suites }, find, null);
  expect(rows.map((row) => [row.type, positionsOf(row)])).toEqual([
    ['suite', [0, 1]],
    ['entry', [0]],
    ['entry', [1]],
    ['entry', [2]],
    ['suite', [3]],
    ['entry', [3]],
  ]);
  expect(rows[4]).toMatchObject({ name: 'On deck', seconds: 9 });
  expect(rows[2]).toMatchObject({ item: 'gone', open: null });
  expect(rows[5]).toMatchObject({ item: null, open });
  // A suite of which nothing is shown has no head either; positions stay those of the list.
  const only = handRows({ suites }, find, (item) => item?.id === 'b');
  expect(only.map((row) => positionsOf(row))).toEqual([[2]]);
});

test('a suite of 300,000 entries is shown at once', () => {
  const entries = Array.from({ length: 300_000 }, (_, index) => entry(String(index)));
  expect(handRows({ suites: [{ name: null, entries }] }, find, null)).toHaveLength(300_001);
});

test('what a rule finds beyond its limit stands below a line', () => {
  const rows = foundRows({ items: ['a'] as ItemId[], beyond: ['b', 'c'] as ItemId[] }, 7, find, null);
  expect(rows.map(({ key }) => key)).toEqual(['entry 0', 'limit', 'entry 1', 'entry 2']);
  expect(rows[1]).toMatchObject({ beyond: 7, shown: 2 });
});
