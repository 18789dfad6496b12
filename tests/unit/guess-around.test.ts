import { beforeEach, expect, test, vi } from 'vitest';
import type { ItemId } from '../../src/lib/core/items';
import { guessAround } from '../../src/lib/state/guess-around';
import { Library } from '../../src/lib/state/library.svelte';
import { databases } from '../helpers/fake-forage';
import { makeItem } from '../helpers/items';

vi.mock('localforage', () => import('../helpers/fake-forage'));
beforeEach(() => databases.clear());

/** Files that say nothing of themselves, of the length of a song. */
function bare(count: number): Library {
  const library = new Library('home');
  const items = Array.from({ length: count }, (_, index) => makeItem(`i${index}`, {}, { settled: null }));
  library.put(items.map((item) => ({ id: item.id, before: null, after: item })));
  return library;
}

test('what was heard once is not forgotten when kinds are guessed again', async () => {
  const library = bare(1);
  const id = 'i0' as ItemId;
  library.put(await guessAround(library, [id], new Map([[id, 0.9]])));
  const heard = library.find(id)?.guess;
  expect(heard?.evidence.map(({ code }) => code)).toContain('spoken');
  expect(await guessAround(library, [id])).toEqual([]);
});

test('an edit made while kinds are guessed stays', async () => {
  const library = bare(400);
  const guessing = guessAround(
    library,
    library.items.map(({ id }) => id),
  );
  library.edit('Title', library.items.slice(0, 1), { title: 'Mine' });
  library.put(await guessing);
  expect(library.find('i0' as ItemId)).toMatchObject({ edits: { fields: { title: 'Mine' } } });
  expect(library.find('i0' as ItemId)?.guess.evidence.length).toBeGreaterThan(0);
});

test('where nothing was taken in, the library is not looked through', async () => {
  const library = bare(3);
  const closed = new Proxy(library, {
    get(target, name) {
      if (name === 'items' || name === 'arrivals') throw new Error(`${name} looked through`);
      const value: unknown = Reflect.get(target, name, target);
      return typeof value === 'function' ? (value.bind(target) as unknown) : value;
    },
  });
  expect(await guessAround(closed, [])).toEqual([]);
  await expect(guessAround(closed, ['i0' as ItemId])).rejects.toThrow('looked through');
});
