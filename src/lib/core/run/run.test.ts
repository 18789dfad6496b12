import { expect, test } from 'vitest';
import type { ItemId, SourceId } from '../items';
import { ofItem, HOLD_FOLDER, type FileFacts, type Step } from '../plan';
import { StepError, type RunEffects } from './effects';
import { JOURNAL_VERSION, placedAfter, totalsOf, type Journal, type Outcome } from './journal';
import { migrateJournal } from './migrations/journal';
import { MemoryStore } from './memory-store';
import { applyRun } from './run';
import { StoreError } from './store';
import { takeAsGood, takeBack } from './take-back';

/* Every point at which a run can break is gone through in tests/hard. Here are the ways that it goes by itself. */

const bytes = (text: string) => new TextEncoder().encode(text);
/** A place whose digests are the bytes themselves. */
const place = () =>
  new MemoryStore({ caseBlind: false, digests: false, digest: (content) => content.join(',') });
const texts = (store: MemoryStore) =>
  Object.fromEntries([...store.files].map(([path, content]) => [path, new TextDecoder().decode(content)]));

function journalOf(steps: readonly Step[], outcomes: readonly Outcome[] = []): Journal {
  return {
    version: JOURNAL_VERSION,
    id: 'run',
    startedAt: 0,
    endedAt: null,
    state: 'running',
    reason: null,
    steps,
    outcomes,
    placedBefore: [],
  };
}

const ANY = { size: null, digest: null };
const copy = (path: string, replaces = false, item = path): Step => ({
  type: 'copy',
  path,
  owner: ofItem(item as ItemId),
  original: { source: 's' as SourceId, path, size: 3 },
  recipe: { type: 'asIs' },
  replaces: replaces ? ANY : null,
  signature: 'x',
});
const sidecar = (path: string, item: string): Step => ({
  type: 'writeText',
  mime: 'application/xml',
  path,
  owner: ofItem(item as ItemId),
  text: 'side',
  replaces: null,
  signature: 'y',
});

function effects(change: Partial<RunEffects<Uint8Array>> = {}): RunEffects<Uint8Array> {
  return {
    content: async (step) => bytes(`new ${step.path}`),
    check: async () => undefined,
    digest: async (source) => (await source.read(0, source.size)).join(','),
    save: async () => undefined,
    progress: () => undefined,
    isCancelled: () => false,
    ...change,
  };
}

test('applies steps in order and notes each', async () => {
  const store = place();
  const steps: Step[] = [{ type: 'makeFolder', path: 'a' }, copy('a/1.mp3'), sidecar('a/1.xml', 'a/1.mp3')];
  const end = await applyRun(journalOf(steps), store, effects());
  expect(end.state).toBe('finished');
  expect(Object.keys(texts(store))).toEqual(['a/1.mp3', 'a/1.xml']);
  expect(totalsOf({ steps, outcomes: end.outcomes })).toEqual({ done: 3, failed: 0, left: 0 });
  expect(placedAfter({ ...journalOf(steps), outcomes: end.outcomes }).map(({ path }) => path)).toEqual([
    'a/1.mp3',
    'a/1.xml',
  ]);
});

test('what both sides agree on is looked at, and known by its digest where the place keeps none', async () => {
  const store = place();
  store.put('a.mp3', bytes('theirs'));
  const record = { path: 'a.mp3', owner: null, signature: 's', size: 6, digest: null };
  const agree = (path: string, was: FileFacts | null): Step => ({
    type: 'agree',
    path,
    from: path,
    was,
    record,
  });
  const there = { size: 6, digest: null };
  const steps = [agree('a.mp3', there), agree('b.mp3', there), agree('a.mp3', null)];
  const { outcomes } = await applyRun(journalOf(steps), store, effects());
  expect(outcomes.map((outcome) => (outcome.type === 'failed' ? outcome.code : outcome.type))).toEqual([
    'done',
    'gone',
    'exists',
  ]);
  expect(placedAfter({ ...journalOf(steps), outcomes })).toEqual([
    { ...record, digest: bytes('theirs').join(',') },
  ]);
  const { left } = await takeBack({ ...journalOf(steps), outcomes }, store, effects());
  expect([left, texts(store)]).toEqual([[], { 'a.mp3': 'theirs' }]);
});

test('a step that fails is noted, its sidecar is not written, and the rest goes on', async () => {
  const store = place();
  const steps = [copy('a.mp3'), sidecar('a.xml', 'a.mp3'), copy('b.mp3')];
  const content: RunEffects<Uint8Array>['content'] = async (step) => {
    if (step.path === 'a.mp3') throw new StepError('unreadable', 'gone');
    return bytes('x');
  };
  const end = await applyRun(journalOf(steps), store, effects({ content }));
  expect(end.outcomes.map((outcome) => (outcome.type === 'failed' ? outcome.code : outcome.type))).toEqual([
    'unreadable',
    'itemFailed',
    'done',
  ]);
  expect(Object.keys(texts(store))).toEqual(['b.mp3']);
});

test('a copy that reads back otherwise does not stay, and what it replaced returns', async () => {
  const store = place();
  store.put('a.mp3', bytes('old'));
  const check = async () => {
    throw new StepError('readBackDiffers', 'title');
  };
  const end = await applyRun(journalOf([copy('a.mp3', true)]), store, effects({ check }));
  expect(end.outcomes[0]).toMatchObject({ type: 'failed', code: 'readBackDiffers' });
  expect(texts(store)).toEqual({ 'a.mp3': 'old' });
});

test('a player that stops answering stops the run; it resumes where it was', async () => {
  const store = place();
  const steps = [copy('1'), copy('2'), copy('3')];
  const write = store.write.bind(store);
  store.write = async (path, content) => {
    if (path.endsWith('/2')) throw new StoreError('unreachable', path);
    return write(path, content);
  };
  const stopped = await applyRun(journalOf(steps), store, effects());
  expect(stopped).toMatchObject({ state: 'stopped', reason: 'unreachable' });
  expect(Object.keys(texts(store))).toEqual(['1']);
  store.write = write;
  const written: string[] = [];
  const content: RunEffects<Uint8Array>['content'] = async (step) => {
    written.push(step.path);
    return bytes('x');
  };
  const resumed = await applyRun(journalOf(steps, stopped.outcomes), store, effects({ content }));
  expect(resumed.state).toBe('finished');
  expect(written).toEqual(['2', '3']);
});

test('cancelling ends between two steps', async () => {
  let ended = 0;
  const end = await applyRun(
    journalOf([copy('1'), copy('2')]),
    place(),
    effects({ isCancelled: () => ended > 0, progress: () => ended++ }),
  );
  expect(end.state).toBe('cancelled');
  expect(end.outcomes).toHaveLength(1);
});

test('taking back leaves alone what was changed since', async () => {
  const store = place();
  const steps = [copy('a'), copy('b')];
  const { outcomes } = await applyRun(journalOf(steps), store, effects());
  store.put('a', bytes('edited by somebody else'));
  const taken = await takeBack({ ...journalOf(steps), outcomes }, store, effects());
  expect(taken).toEqual({ undone: 1, left: [{ path: 'a', code: 'changedSince' }] });
  expect(texts(store)).toEqual({ a: 'edited by somebody else' });
});

test('once taken as good, nothing is held any more', async () => {
  const store = place();
  store.put('a', bytes('old'));
  const steps = [copy('a', true)];
  const { outcomes } = await applyRun(journalOf(steps), store, effects());
  expect([...store.files.keys()].some((path) => path.startsWith(HOLD_FOLDER))).toBe(true);
  await takeAsGood({ ...journalOf(steps), outcomes }, store);
  expect([...store.files.keys()]).toEqual(['a']);
  expect([...store.folders]).toEqual([]);
});

test('what the plan did not see there is left alone', async () => {
  const store = place();
  store.put('a', bytes('by another hand'));
  store.put('b', bytes('changed by another hand'));
  const steps: Step[] = [copy('a'), { type: 'remove', path: 'b', was: { size: null, digest: 'ours' } }];
  const before = texts(store);
  const { outcomes } = await applyRun(journalOf(steps), store, effects());
  expect(outcomes.map((outcome) => outcome.type === 'failed' && outcome.code)).toEqual([
    'exists',
    'changedSince',
  ]);
  expect(texts(store)).toEqual(before);
  const placed = [{ path: 'b', owner: null, signature: 'x', size: 4, digest: 'ours' }];
  expect(placedAfter({ ...journalOf(steps, outcomes), placedBefore: placed })).toEqual([]);
});

test('bytes that come through otherwise are told by their digest, at the same size', async () => {
  const store = place();
  const read = store.read.bind(store);
  store.read = async (path) => {
    const source = await read(path);
    return { size: source.size, read: async (start, end) => new Uint8Array(end - start) };
  };
  const end = await applyRun(journalOf([sidecar('a.xml', 'a')]), store, effects());
  expect(end.outcomes[0]).toMatchObject({ type: 'failed', code: 'readBackDiffers' });
  expect(texts(store)).toEqual({});
});

test.each(['gone', 'refused', 'exists'] as const)(
  'a read-back that fails with "%s" leaves what stood there in its place',
  async (code) => {
    const store = place();
    store.put('a', bytes('old'));
    store.read = async (path) => {
      throw new StoreError(code, path);
    };
    const end = await applyRun(journalOf([copy('a', true)]), store, effects());
    expect(end.outcomes[0]).toMatchObject({ type: 'failed', code, hold: null });
    expect(texts(store)).toEqual({ a: 'old' });
    expect(store.folders).toEqual([]);
  },
);

test('a place that is out of reach when a step first looks notes nothing: resumed, the old file is held', async () => {
  const store = place();
  store.put('a', bytes('old'));
  const find = store.find.bind(store);
  store.find = async (path) => {
    throw new StoreError('unreachable', path);
  };
  const stopped = await applyRun(journalOf([copy('a', true)]), store, effects());
  expect(stopped).toMatchObject({ state: 'stopped', reason: 'unreachable', outcomes: [] });
  store.find = find;
  const { outcomes } = await applyRun(journalOf([copy('a', true)]), store, effects());
  await takeBack({ ...journalOf([copy('a', true)]), outcomes }, store, effects());
  expect(texts(store)).toEqual({ a: 'old' });
});

test('a video whose copy stopped the run gets its sidecar when it is resumed', async () => {
  const store = place();
  const steps = [copy('v.mp4'), sidecar('v.xml', 'v.mp4')];
  const write = store.write.bind(store);
  store.write = async (path) => {
    throw new StoreError('full', path);
  };
  const stopped = await applyRun(journalOf(steps), store, effects());
  expect(stopped.reason).toBe('full');
  store.write = write;
  await applyRun(journalOf(steps, stopped.outcomes), store, effects());
  expect(Object.keys(texts(store))).toEqual(['v.mp4', 'v.xml']);
});

test('a run that is being taken back does not go on, and one that is unfinished is not taken as good', async () => {
  const begun: Outcome = { type: 'begun', was: null, hold: 'h', made: [], put: ANY };
  const journal = { ...journalOf([copy('a')], [begun]), state: 'takingBack' as const };
  await expect(applyRun(journal, place(), effects())).rejects.toThrow(RangeError);
  await expect(takeAsGood(journal, place())).rejects.toThrow(RangeError);
});

test('a journal of version 1 is taken back by what it holds', async () => {
  const store = place();
  store.put(`${HOLD_FOLDER}/run/a/old.mp3`, bytes('old'));
  store.put('a/old.mp3', bytes('new'));
  store.put('a/begun.mp3', bytes('half'));
  const old = {
    ...journalOf([]),
    version: 1,
    steps: [
      { ...copy('a/old.mp3'), replaces: true },
      { ...copy('a/begun.mp3'), replaces: false },
    ],
    outcomes: [
      { type: 'done', size: 3, digest: null, held: true },
      { type: 'begun', occupied: false },
    ],
  };
  const { left } = await takeBack(migrateJournal(old), store, effects());
  expect(left).toEqual([]);
  expect(texts(store)).toEqual({ 'a/old.mp3': 'old' });
  expect(store.folders).toEqual(['a']);
  expect(() => migrateJournal({ ...old, version: 99 })).toThrow(RangeError);
});
