import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { ItemChange } from '../../src/lib/core/browse';
import { Following } from '../../src/lib/state/following';
import { makeItem } from '../helpers/items';

let taken: string[];
let shown: number;
let following: Following;

const changes = (from: number, count: number): ItemChange[] =>
  Array.from({ length: count }, (_, index) => ({ before: null, after: makeItem(`i${from + index}`) }));
const ids = (from: number, count: number) => changes(from, count).map(({ after }) => after?.id);
/** Steps of which each takes longer than the page gives at once. */
function* slowly(count: number): Generator<void, void> {
  for (let step = 0; step < count; step++) {
    vi.advanceTimersByTime(20);
    yield;
  }
}

beforeEach(() => {
  vi.useFakeTimers();
  [taken, shown] = [[], 0];
  following = new Following(
    (own) => {
      vi.advanceTimersByTime(20);
      taken.push(...own.map(({ after }) => after?.id ?? ''));
    },
    () => shown++,
  );
});
afterEach(() => vi.useRealTimers());

test('a few changes are shown at once', () => {
  following.change(changes(0, 3));
  expect([taken, shown]).toEqual([ids(0, 3), 1]);
});

test('many are taken up in slices, in their order, and shown once', async () => {
  following.change(changes(0, 1800));
  expect(following.isBuilding).toBe(true);
  // The page is drawn with them first.
  expect([taken, shown]).toEqual([[], 0]);
  following.change(changes(1800, 2));
  await vi.runAllTimersAsync();
  expect(taken).toEqual(ids(0, 1802));
  expect([following.isBuilding, shown]).toEqual([false, 1]);
});

test('what comes while it is built waits; building anew leaves what was begun', async () => {
  following.build(slowly(5));
  following.change(changes(0, 2));
  following.build(slowly(3));
  following.change(changes(2, 900));
  await vi.runAllTimersAsync();
  // The build has looked at all that was there when it began.
  expect(taken).toEqual(ids(2, 900));
  expect(shown).toBe(1);
});

test('taking late changes up can be left for another build', async () => {
  const steps = (function* (): Generator<void, void> {
    following.change(changes(0, 1800));
    yield;
  })();
  following.build(steps);
  following.build(slowly(2));
  const before = taken.length;
  await vi.runAllTimersAsync();
  expect(taken.length).toBe(before);
  expect(shown).toBe(1);
});
