import { beforeEach, expect, test, vi } from 'vitest';
import type { Step } from '../../src/lib/core/plan';
import { targetId } from '../../src/lib/core/library';
import { JOURNAL_VERSION, type Journal, type Outcome } from '../../src/lib/core/run';
import { LibraryStorage } from '../../src/lib/io/storage';
import { databases, forgetAll, writes } from '../helpers/fake-forage';
import { ATTIC, DEVICE } from '../helpers/libraries';

vi.mock('localforage', () => import('../helpers/fake-forage'));

beforeEach(forgetAll);

test('a journal is kept in parts, and found again with what came of it', async () => {
  const storage = new LibraryStorage('home');
  const steps: Step[] = Array.from({ length: 450 }, (_, index) => ({
    type: 'makeFolder',
    path: `f${index}`,
  }));
  const journal: Journal = {
    version: JOURNAL_VERSION,
    id: 'r',
    startedAt: 1,
    endedAt: null,
    state: 'running',
    reason: null,
    steps,
    outcomes: [],
    placedBefore: [],
  };
  await storage.runs.start(DEVICE, journal);
  const outcomes: Outcome[] = Array.from({ length: 201 }, () => ({
    type: 'done',
    was: null,
    hold: 'h',
    made: [],
    put: null,
  }));
  await storage.runs.saveOutcomes(DEVICE, 'r', outcomes, 0);
  writes.length = 0;
  await storage.runs.saveOutcomes(DEVICE, 'r', outcomes, 200);
  expect(writes).toEqual(['lectorum-home-journals attic.device:r:outcomes:1']);
  expect(await storage.runs.latest(DEVICE)).toEqual({ ...journal, outcomes });
  expect(await storage.runs.latest(targetId(ATTIC.id, 'folder'))).toBeNull();
  await storage.runs.start(DEVICE, { ...journal, id: 'next', startedAt: 9 });
  const counts = { endedAt: null, takenBack: false, failed: 0, steps: 450, isKept: true };
  expect(await storage.runs.list(DEVICE)).toEqual([
    { id: 'next', startedAt: 9, done: 0, ...counts },
    { id: 'r', startedAt: 1, done: 0, ...counts },
  ]);
  expect(await storage.runs.load(DEVICE, 'r')).toEqual({ ...journal, outcomes });
  expect(await storage.runs.latest(DEVICE)).toMatchObject({ id: 'next', outcomes: [] });
  await storage.runs.drop(DEVICE);
  expect(await storage.runs.latest(DEVICE)).toBeNull();
  expect(await storage.runs.list(DEVICE)).toEqual([]);
  expect(await storage.runs.load(DEVICE, 'r')).toBeNull();
});

test('of old runs the counts stay, when their steps would take too much room', async () => {
  const { runs } = new LibraryStorage('home');
  const steps = (count: number) =>
    Array.from({ length: count }, (_, index): Step => ({ type: 'makeFolder', path: `f${index}` }));
  const run = (id: string, count: number): Journal => ({
    version: JOURNAL_VERSION,
    id,
    startedAt: 1,
    endedAt: 2,
    state: 'finished',
    reason: null,
    steps: steps(count),
    outcomes: [],
    placedBefore: [],
  });
  for (const [id, count] of Object.entries({ first: 30_000, second: 20_000, third: 160_000 }))
    await runs.start(DEVICE, run(id, count));
  expect((await runs.list(DEVICE)).map(({ id, isKept }) => [id, isKept])).toEqual([
    ['third', true],
    ['second', true],
    ['first', false],
  ]);
  expect(await runs.load(DEVICE, 'first')).toBeNull();
  expect((await runs.load(DEVICE, 'second'))?.steps).toHaveLength(20_000);
  for (let index = 0; index < 50; index++) await runs.start(DEVICE, run(`more ${index}`, 1));
  expect(await runs.list(DEVICE)).toHaveLength(50);
  expect((await runs.latest(DEVICE))?.id).toBe('more 49');
});

test('the one journal that an earlier version kept, and the counts of those before, become a history', async () => {
  const head = { version: JOURNAL_VERSION, id: 'old', state: 'stopped', placedBefore: [], stepCount: 1 };
  const store = new Map<string, unknown>([
    ['attic.device:head', head],
    ['attic.device:steps:0', [{ type: 'makeFolder', path: 'a' }]],
    ['attic.device:outcomes:0', []],
    ['attic.device:past', [{ id: 'older', startedAt: 1, endedAt: 2, takenBack: false, done: 3, failed: 1 }]],
  ]);
  databases.set('lectorum-home-journals', store);
  const { runs } = new LibraryStorage('home');
  await runs.adopt(DEVICE);
  expect(await runs.latest(DEVICE)).toMatchObject({ id: 'old', state: 'stopped', steps: [{ path: 'a' }] });
  expect((await runs.list(DEVICE)).map(({ id, steps, isKept }) => [id, steps, isKept])).toEqual([
    ['old', 1, true],
    ['older', 4, false],
  ]);
  expect([...store.keys()].filter((key) => !key.includes('old'))).toEqual(['attic.device:runs']);
  await runs.adopt(DEVICE);
  expect(await runs.list(DEVICE)).toHaveLength(2);
});
