import { beforeEach, expect, test, vi } from 'vitest';
import type { OriginalJob, OriginalOutcome } from '../../src/lib/core/originals';
import { LibraryStorage } from '../../src/lib/io/storage';
import type { OriginalsRun } from '../../src/lib/io/storage';
import { forgetAll, newPage } from '../helpers/fake-forage';

vi.mock('localforage', () => import('../helpers/fake-forage'));

beforeEach(forgetAll);

const JOBS = ['a', 'b', 'c', 'd'].map((path) => ({ path }) as OriginalJob);
const RUN: OriginalsRun = {
  id: 'r',
  startedAt: 1,
  endedAt: null,
  state: 'running',
  reason: null,
  count: JOBS.length,
  done: 0,
  failed: 0,
  undone: 0,
  isKept: true,
  isFollowed: false,
};
const FILE = { size: 1, digest: 'x' };
const ended = (type: 'done' | 'begun'): OriginalOutcome => ({ type, was: FILE, put: FILE, back: [] });

test('a run that was cut tells how far it came, which nobody noted', async () => {
  const { originals } = new LibraryStorage('home');
  await originals.start(RUN, JOBS);
  await originals.saveOutcome('r', 0, ended('done'));
  await originals.saveOutcome('r', 1, { type: 'failed', code: 'unreadable', detail: '' });
  await originals.saveOutcome('r', 2, ended('begun'));
  newPage();
  const after = new LibraryStorage('home').originals;
  expect(await after.list()).toMatchObject([{ state: 'running', done: 1, failed: 1, undone: 0 }]);

  await after.save({ ...RUN, state: 'takingBack' });
  await after.saveOutcome('r', 0, { type: 'undone' });
  expect(await after.list()).toMatchObject([{ state: 'takingBack', done: 0, failed: 1, undone: 1 }]);
});

test('what an earlier version kept of its runs is counted as it was told then', async () => {
  const storage = new LibraryStorage('home');
  const { undone: _, ...old } = { ...RUN, state: 'takenBack', done: 1, failed: 1, isKept: false };
  await storage.originals.start(RUN, JOBS);
  const { databases } = await import('../helpers/fake-forage');
  for (const records of databases.values())
    if (records.has('runs')) records.set('runs', { version: 2, runs: [old] });
  expect(await storage.originals.list()).toMatchObject([{ done: 1, failed: 1, undone: 2 }]);
  // What a later application wrote is not taken for ours.
  for (const records of databases.values())
    if (records.has('runs')) records.set('runs', { version: 4, runs: [old] });
  await expect(storage.originals.list()).rejects.toThrow('version 4');
});
