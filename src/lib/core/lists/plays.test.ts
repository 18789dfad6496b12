import { expect, test } from 'vitest';
import type { ItemId } from '../items';
import type { ListId } from './list';
import { marked, playedAgain, shuffled, unmarked } from './plays';

const ids = (...names: string[]) => names as ItemId[];
const marks = (...names: string[]) => ({ list: 'l' as ListId, items: ids(...names) });

test('what is played is counted, with the last time', () => {
  const [item] = ids('a');
  expect(playedAgain(playedAgain(null, item!, 5), item!, 9)).toEqual({ item, count: 2, at: 9 });
});

test('marks are set once, and cleared one by one or all', () => {
  expect(marked(marks('a'), ids('b', 'a'))).toEqual(marks('a', 'b'));
  const own = marks('a');
  expect(marked(own, ids('a'))).toBe(own);
  expect(unmarked(marks('a', 'b'), new Set(ids('a')))).toEqual(marks('b'));
  expect(unmarked(marks('a'), new Set(ids('a')))).toBeNull();
});

test('a chance order has each once, and goes by the chance alone', () => {
  const all = Array.from({ length: 20 }, (_, index) => index);
  const once = shuffled(all, () => 0.3);
  expect([...once].sort((a, b) => a - b)).toEqual(all);
  expect(once).toEqual(shuffled(all, () => 0.3));
  expect(once).not.toEqual(all);
});
