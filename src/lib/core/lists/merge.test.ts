import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { ItemId } from '../items';
import { newHandList, type ListEntry, type ListId, type Suite } from './list';
import { entriesOf } from './hand';
import { entryKey, mergeOrders, withEntries } from './merge';

const KEYS = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h', 'i'];
const order = fc.shuffledSubarray(KEYS);
const merged = (base: string, here: string, there: string) => {
  const { type, keys } = mergeOrders([...base], [...here], [...there]);
  return type === 'merged' ? keys.join('') : `conflict ${keys.join('')}`;
};

describe('merging two orders', () => {
  test.each([
    ['what one added', 'abc', 'abxc', 'abc', 'abxc'],
    ['what each added', 'abc', 'abxc', 'yabc', 'yabxc'],
    ['what each added at one place', 'ab', 'axb', 'ayb', 'axyb'],
    ['what both added', 'ab', 'axb', 'axyb', 'axyb'],
    ['what both added elsewhere', 'ab', 'axb', 'abx', 'axb'],
    ['what each took out', 'abcd', 'acd', 'abc', 'ac'],
    ['what one moved and the other took out beside it', 'abcde', 'eabcd', 'abde', 'eabd'],
    ['what one moved and the other took out', 'abcde', 'eabcd', 'abcd', 'conflict e'],
    ['what both moved alike', 'abcde', 'eabcd', 'eabcd', 'eabcd'],
    ['what both moved differently', 'abcde', 'eabcd', 'abecd', 'conflict e'],
    ['an addition behind what the other took out', 'abc', 'abxc', 'ac', 'axc'],
  ])('%s', (_what, base, here, there, expected) => {
    expect(merged(base, here, there)).toBe(expected);
  });

  test('is the same whichever side is which', () => {
    fc.assert(
      fc.property(order, order, order, (base, here, there) => {
        expect(mergeOrders(base, here, there)).toEqual(mergeOrders(base, there, here));
      }),
      { numRuns: 2000 },
    );
  });

  test('is what one side made where the other left all as it was, or did the same', () => {
    fc.assert(
      fc.property(order, order, (base, made) => {
        const expected = { type: 'merged', keys: made };
        expect(mergeOrders(base, base, made)).toEqual(expected);
        expect(mergeOrders(base, made, made)).toEqual(expected);
      }),
      { numRuns: 2000 },
    );
  });

  test('has what both kept and what either added, each once, and nothing else', () => {
    fc.assert(
      fc.property(order, order, order, (base, here, there) => {
        const { type, keys } = mergeOrders(base, here, there);
        if (type === 'conflict') return;
        const is = (key: string) =>
          base.includes(key)
            ? here.includes(key) && there.includes(key)
            : here.includes(key) || there.includes(key);
        expect([...keys].sort()).toEqual(KEYS.filter(is));
      }),
      { numRuns: 2000 },
    );
  });

  test('of 20,000 entries is quick to make', () => {
    const base = Array.from({ length: 20_000 }, (_, index) => String(index));
    const here = [...base.slice(1), '0'];
    const there = base.filter((_, index) => index % 7 !== 3);
    expect(mergeOrders(base, here, there)).toMatchObject({ type: 'merged', keys: { length: there.length } });
  });
});

describe('a list by hand with other entries', () => {
  const entry = (item: string): ListEntry => ({ item: item as ItemId });
  const suite = (name: string | null, items: string): Suite => ({ name, entries: [...items].map(entry) });
  const list = { ...newHandList('l' as ListId, 'L'), suites: [suite('One', 'abc'), suite(null, 'd')] };
  const after = (items: string) =>
    withEntries(list, [...items].map(entry)).suites.map(
      ({ name, entries }) =>
        `${name ?? ''}:${entries.map((one) => ('item' in one ? one.item : '')).join('')}`,
    );

  test('keeps suites, and takes what is new into the one that it stands inside of', () => {
    expect(after('abcd')).toEqual(['One:abc', ':d']);
    expect(after('axbcdy')).toEqual(['One:axbc', ':d', ':y']);
    expect(after('xacyd')).toEqual([':x', 'One:ac', ':y', ':d']);
    expect(after('adbc')).toEqual(['One:a', ':d', 'One:bc']);
    expect(after('')).toEqual([]);
  });

  test('has them in their order, whatever they are', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...'abcdxyz')), (items) => {
        const entries = items.map(entry);
        expect(entriesOf(withEntries(list, entries)).map(entryKey)).toEqual(entries.map(entryKey));
      }),
    );
  });
});
