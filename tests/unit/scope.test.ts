import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Library } from '../../src/lib/state/library.svelte';
import { ScopeState, LedgerSelection } from '../../src/lib/state/scope.svelte';
import { makeItem } from '../helpers/items';

vi.mock('localforage', () => import('../helpers/fake-forage'));

/** Rows are built in slices of a fake clock that each look at it moves on. */
beforeEach(() => {
  vi.useFakeTimers();
  const start = performance.now();
  let looks = 0;
  vi.spyOn(performance, 'now').mockImplementation(() => start + looks++ * 20);
});
afterEach(() => {
  vi.restoreAllMocks();
  vi.useRealTimers();
});

test('a selection of many is in the order of the library, and follows edits, what goes and what comes back', () => {
  const library = new Library('home');
  const items = Array.from({ length: 200 }, (_, index) => makeItem(`i${index}`, { title: `T${index}` }));
  library.put(items.map((item) => ({ id: item.id, before: null, after: item })));
  const selection = new LedgerSelection(library);
  const chosen = items.filter((_, index) => index % 2 === 1).map(({ id }) => id);
  selection.set(chosen.toReversed());
  const ids = () => selection.items.map(({ id }) => id);
  expect(ids()).toEqual(chosen);
  library.edit('title', selection.items.slice(0, 1), { title: 'New' });
  expect(selection.items[0]?.edits.fields?.title).toBe('New');
  library.act('forget', items.slice(0, 2), () => null);
  expect(ids()).toEqual(chosen.slice(1));
  library.undo();
  expect(new Set(ids())).toEqual(new Set(chosen));
  selection.set(chosen.slice(0, 60));
  expect(ids().length).toBe(60);
});

test('what is in scope is known while its rows are still being made', async () => {
  const library = new Library('home');
  const items = Array.from({ length: 4000 }, (_, index) => makeItem(`i${index}`, { title: `T${index}` }));
  library.put(items.map((item) => ({ id: item.id, before: null, after: item })));
  const scope = new ScopeState(library);
  await vi.runAllTimersAsync();
  expect(scope.rows.length).toBeGreaterThan(0);
  expect(scope.items).toHaveLength(4000);

  scope.narrow({ kind: null, text: 'T399' });
  expect(scope.items.map(({ id }) => id).sort()).toEqual(
    ['i399', ...Array.from({ length: 10 }, (_, index) => `i399${index}`)].sort(),
  );
  await vi.runAllTimersAsync();
  expect(scope.items).toHaveLength(11);

  scope.setLevel(0, 'artist');
  expect(scope.items).toHaveLength(11);
  await vi.runAllTimersAsync();
  expect(scope.items).toHaveLength(11);
});
