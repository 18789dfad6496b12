import { vi } from 'vitest';

/** Milliseconds: less than a test may take, and more than a machine that is busy with other work needs. */
const LIMIT = 200_000;

/**
 * Waits until a check passes, for what no promise tells. `vi.waitFor` gives up after one second, which a busy machine
 * exceeds; lint sends every test here.
 */
export function eventually<T>(check: () => T | Promise<T>): Promise<T> {
  // eslint-disable-next-line no-restricted-properties -- the one place that sets the limit
  return vi.waitFor(check, { timeout: LIMIT, interval: 20 });
}
