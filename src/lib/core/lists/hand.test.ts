import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { ItemId } from '../items';
import {
  countEntries,
  doublesIn,
  entriesOf,
  itemOfEntry,
  joinSuite,
  layTo,
  moveBy,
  moveTo,
  partSuites,
  putIn,
  putOpen,
  sortOnce,
  takeOut,
} from './hand';
import { newHandList, type HandList, type ListEntry, type ListId, type Suite } from './list';

const id = (text: string) => text as ItemId;
const empty = newHandList('list' as ListId, 'For the ferry');
/** `ab|c` has a suite of two and one of one; a name stands before a colon. */
const made = (text: string): HandList => ({
  ...empty,
  suites: text.split('|').flatMap((part): Suite[] => {
    const [name, items] = part.includes(':') ? (part.split(':') as [string, string]) : [null, part];
    return items === '' ? [] : [{ name, entries: [...items].map((one) => ({ item: id(one) })) }];
  }),
});
const said = ({ suites }: HandList) =>
  suites
    .map(
      ({ name, entries }) =>
        `${name === null ? '' : `${name}:`}${entries.map((entry) => itemOfEntry(entry) ?? '?').join('')}`,
    )
    .join('|');
const at = (...positions: number[]) => new Set(positions);

describe('putting in', () => {
  test('adds at the end, one by one or as one suite, and nothing twice', () => {
    const one = putIn(made('ab'), ['b', 'c', 'd'].map(id), null);
    expect([said(one.list), one.added, one.known]).toEqual(['ab|c|d', 2, 1]);
    const suite = putIn(made('ab'), ['c', 'd', 'c'].map(id), { name: 'On deck' });
    expect([said(suite.list), suite.added, suite.known]).toEqual(['ab|On deck:cd', 2, 1]);
    expect([...suite.positions]).toEqual([2, 3]);
  });

  test('of what is all there changes nothing; a list that allows doubles takes them', () => {
    const list = made('ab');
    expect(putIn(list, [id('a')], null).list).toBe(list);
    expect(said(putIn({ ...list, allowsDoubles: true }, ['a', 'a'].map(id), null).list)).toBe('ab|a|a');
  });
});

test('what is taken out takes its suite along once that is empty', () => {
  expect(said(takeOut(made('x:ab|c|d'), at(0, 2)))).toBe('x:b|d');
});

describe('moving', () => {
  test.each([
    ['a whole suite goes as one', 'x:ab|c|d', [0, 1], 3, 'c|x:ab|d'],
    ['one entry into a suite joins it', 'x:ab|c', [2], 1, 'x:acb'],
    ['one entry out of a suite stands alone', 'x:ab|c', [0], 3, 'x:b|c|a'],
    ['an entry within its suite stays in it', 'x:abc', [0], 2, 'x:bac'],
    ['in front of itself it stays', 'x:ab|c', [2], 2, 'x:ab|c'],
    ['a suite put into another one parts it', 'x:ab|y:cd', [2, 3], 1, 'x:a|y:cd|x:b'],
    ['several go together, in their order', 'a|b|c|d', [0, 2], 4, 'b|d|a|c'],
  ] as const)('%s', (_, from, positions, before, to) => {
    expect(said(moveTo(made(from), new Set(positions), before).list)).toBe(to);
  });

  test('by one place goes over entries, or over whole suites', () => {
    expect(said(moveBy(made('a|b|c'), at(0), 1).list)).toBe('b|a|c');
    expect(said(moveBy(made('a|x:bc|d'), at(0), 1).list)).toBe('x:bc|a|d');
    expect(said(moveBy(made('a|x:bc|d'), at(1, 2), -1).list)).toBe('x:bc|a|d');
    expect(said(moveBy(made('a|x:bc|d'), at(2), -1).list)).toBe('a|x:cb|d');
    expect(said(moveBy(made('a|b'), at(1), 1).list)).toBe('a|b');
  });

  const lists = fc.array(fc.integer({ min: 1, max: 4 }), { minLength: 1, maxLength: 6 }).map((sizes) => {
    let next = 0;
    const suites = sizes.map((size, index): Suite => ({
      name: index % 2 === 0 ? null : `suite ${index}`,
      entries: Array.from({ length: size }, () => ({ item: id(String(next++)) })),
    }));
    return { ...empty, suites };
  });
  test('keeps every entry once, and those that were moved in their order', () => {
    fc.assert(
      fc.property(lists, fc.array(fc.nat(30), { minLength: 1 }), fc.nat(30), (list, chosen, before) => {
        const count = countEntries(list);
        const positions = new Set(chosen.map((one) => one % count));
        const moved = moveTo(list, positions, before % (count + 1));
        const items = (own: HandList) => entriesOf(own).map(itemOfEntry);
        expect([...items(moved.list)].sort()).toEqual([...items(list)].sort());
        expect([...moved.positions].map((place) => items(moved.list)[place])).toEqual(
          items(list).filter((_, place) => positions.has(place)),
        );
        expect(moved.list.suites.every(({ entries }) => entries.length > 0)).toBe(true);
      }),
    );
  });
});

test('a list of 300,000 entries is moved, joined and parted at once', () => {
  const items = Array.from({ length: 300_000 }, (_, index) => id(String(index)));
  const { list, positions } = putIn(empty, items, null);
  expect(countEntries(moveTo(list, positions, 0).list)).toBe(300_000);
  expect(moveBy(list, positions, 1).list).toBe(list);
  const suite = joinSuite(list, positions, 'All').list;
  expect(suite.suites).toHaveLength(1);
  expect(partSuites(suite, at(5)).suites).toHaveLength(300_000);
});

test('entries become one suite where the first of them stands, and are parted again', () => {
  const joined = joinSuite(made('a|x:bcd|e'), at(2, 4), 'On deck');
  expect(said(joined.list)).toBe('a|x:b|On deck:ce|x:d');
  expect([...joined.positions]).toEqual([2, 3]);
  expect(said(partSuites(joined.list, at(3)))).toBe('a|x:b|c|e|x:d');
});

test('a list is put in order once, suites by their first entry', () => {
  const byName = (a: ListEntry, b: ListEntry) => String(itemOfEntry(a)).localeCompare(String(itemOfEntry(b)));
  expect(said(sortOnce(made('x:dc|b|a'), byName))).toBe('a|b|x:cd');
});

test('doubles are told; an open entry is laid to an item', () => {
  const list = { ...made('ab'), allowsDoubles: true };
  expect([...doublesIn(putIn(list, [id('a')], null).list)]).toEqual([2]);
  const open = { path: '../tapes/slack tide.mp3', title: null, artist: null, seconds: null };
  const withOpen = { ...list, suites: [...list.suites, { name: null, entries: [{ open }] }] };
  expect(said(withOpen)).toBe('ab|?');
  expect(said(layTo(withOpen, 2, id('c')))).toBe('ab|c');
  // One that is there already, and may be there but once, stays where it is.
  expect(said(layTo({ ...withOpen, allowsDoubles: false }, 2, id('a')))).toBe('ab');
  expect(said(layTo(withOpen, 2, id('a')))).toBe('ab|a');
});

test('what is not fetched yet is put in once, and becomes an item in its place', () => {
  const track = (number: string) => ({
    ...{ path: `${number}.mp3`, title: number, artist: null, seconds: null },
    from: { type: 'shelf', address: '/shelf', track: number } as const,
  });
  const { list, added, known } = putOpen(newHandList('l' as ListId, 'L'), [track('1'), track('2')]);
  expect([added, known]).toEqual([2, 0]);
  // The same track under another name is the same track.
  const again = putOpen(list, [{ ...track('2'), path: 'other.mp3' }, track('3')]);
  expect([again.added, again.known, [...again.positions]]).toEqual([1, 1, [2]]);
  const laid = layTo(again.list, 1, 'a' as ItemId);
  expect(entriesOf(laid)).toEqual([{ open: track('1') }, { item: 'a' }, { open: track('3') }]);
});
