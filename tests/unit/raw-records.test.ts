import 'fake-indexeddb/auto';
import localforage from 'localforage';
import { expect, test } from 'vitest';
import { readAll, readInTurn, whenDeleted } from '../../src/lib/io/storage/raw-records';

/* What is read past localForage lies where localForage puts it, in whatever version it comes. */

const store = (name: string) => localforage.createInstance({ driver: localforage.INDEXEDDB, name });

test('records that localForage keeps are read at once, and some in turn, as it kept them', async () => {
  const kept = store('raw');
  await kept.setItem('b', { text: 'second' });
  await kept.setItem('a', ['first']);
  await kept.setItem('head', 'third');
  expect(new Map(await readAll('raw'))).toEqual(
    new Map<string, unknown>([
      ['a', ['first']],
      ['b', { text: 'second' }],
      ['head', 'third'],
    ]),
  );
  const inTurn: unknown[] = [];
  for await (const record of readInTurn('raw', ['head', 'missing', 'a', 'b'], 2)) inTurn.push(record);
  expect(inTurn).toEqual(['third', undefined, ['first'], { text: 'second' }]);
});

test('a database that localForage makes is seen to go', async () => {
  const kept = store('going');
  await kept.setItem('a', 1);
  const gone = new Promise<void>((resolve) => void whenDeleted('going', resolve));
  await localforage.dropInstance({ name: 'going' });
  await expect(gone).resolves.toBeUndefined();
});
