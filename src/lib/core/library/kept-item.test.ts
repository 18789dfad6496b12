import { expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import type { Item, ItemId } from '../items';
import { carryOver } from './carry';
import { joinKept, originalOf, sameOriginal, sameSaid, saidOf, type Said, type Unedited } from './kept-item';
import { migrateItem } from './migrations/item';

/** An item of which everything is said, with no value that means nothing. */
const WHOLE: Item = makeItem(
  'cut',
  { title: 'Gulls' },
  {
    settled: 'ringtone',
    edits: { fields: { title: 'Gulls, for the phone' } },
    beside: ['Music/cover.jpg'],
    gone: 5,
    identity: { type: 'left', at: 3 },
    gathering: 'release',
    made: {
      parts: [{ item: 'song' as ItemId, fromSeconds: 5, toSeconds: 11 }],
      codec: 'aac',
      fadeInSeconds: 1,
      fadeOutSeconds: 1,
      from: [{ item: 'song' as ItemId, size: 1000, modified: 1 }],
    },
    foundBeside: [
      {
        path: 'Music/gulls.lrc',
        size: 16,
        modified: 1,
        says: { timed: [{ startSeconds: 1, text: 'Haul' }] },
      },
    ],
  },
);

const names = Object.keys(WHOLE) as (keyof Item)[];

test('the item of these tests leaves nothing unsaid', () => {
  expect(names.filter((name) => WHOLE[name] === null)).toEqual([]);
});

test('what is kept of an item, and what is said of it, are the whole of it', () => {
  const kept = JSON.parse(JSON.stringify(originalOf(WHOLE))) as Item;
  expect(joinKept(migrateItem(kept), saidOf(WHOLE))).toEqual(WHOLE);
});

test('an item that says nothing is kept without what it does not say, and is the same again', () => {
  const item = makeItem('song', {}, { settled: null });
  expect(originalOf(item)).not.toHaveProperty('made');
  expect(joinKept(migrateItem({ ...originalOf(item) } as Item & Unedited), null)).toEqual(item);
});

test.each(names)('another %s is another item to keep', (name) => {
  const other = { ...WHOLE, [name]: structuredClone(WHOLE[name]) };
  const isPlain = typeof WHOLE[name] !== 'object';
  const changed = isPlain ? { ...WHOLE, [name]: `${String(WHOLE[name])} other` } : other;
  expect(sameOriginal(WHOLE, changed) && sameSaid(WHOLE, changed)).toBe(false);
});

test.each(Object.keys(saidOf(WHOLE) ?? {}) as (keyof Said)[])(
  'a change of %s holds for an item whose file was read again since',
  (name) => {
    const before = {
      ...WHOLE,
      settled: null,
      edits: {},
      gone: null,
      identity: null,
      gathering: null,
      foundBeside: null,
    };
    const current = { ...before, size: before.size + 1 };
    const { after } = carryOver({ id: WHOLE.id, before, after: { ...before, [name]: WHOLE[name] } }, current);
    expect(after).toMatchObject({ size: current.size, [name]: WHOLE[name] });
  },
);
