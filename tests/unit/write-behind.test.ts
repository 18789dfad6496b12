import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { LookingOnError } from '../../src/lib/io/storage';
import { WriteBehind } from '../../src/lib/state/write-behind';

vi.mock('localforage', () => import('../helpers/fake-forage'));
beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** How often one thing is tried to be kept within a minute, by what refuses it. */
async function triesOf(error: Error): Promise<number> {
  let tries = 0;
  const behind = new WriteBehind<string>(
    async () => {
      tries++;
      throw error;
    },
    () => {},
  );
  behind.mark('one');
  await vi.advanceTimersByTimeAsync(60_000);
  return tries;
}

test('what storage refuses is tried again', async () => {
  expect(await triesOf(new Error('QuotaExceededError'))).toBeGreaterThan(3);
});

test('a tab that only looks on does not try again by itself what will always be refused', async () => {
  expect(await triesOf(new LookingOnError())).toBe(1);
});
