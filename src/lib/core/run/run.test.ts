import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { ItemId, SourceId } from '../items';
import type { Step } from '../plan';
import { JOURNAL_VERSION, placedAfter, totalsOf, type Journal, type Outcome } from './journal';
import { MemoryStore } from './memory-store';
import { StepError, applyRun, takeAsGood, takeBack, type RunEffects } from './run';
import { HOLD_FOLDER, StoreError } from './store';

const bytes = (text: string) => new TextEncoder().encode(text);
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

const copy = (path: string, item = path): Step => ({
  type: 'copy',
  path,
  item: item as ItemId,
  original: { source: 's' as SourceId, path, size: 3 },
  format: 'mp3',
  changes: null,
  expect: null,
  replaces: false,
  signature: 'x',
});
const sidecar = (path: string, item: string): Step => ({
  type: 'writeSidecar',
  path,
  item: item as ItemId,
  text: 'side',
  replaces: false,
  signature: 'y',
});

function effects(change: Partial<RunEffects<Uint8Array>> = {}): RunEffects<Uint8Array> {
  return {
    content: async (step) => bytes(`new ${step.path}`),
    check: async () => undefined,
    save: async () => undefined,
    progress: () => undefined,
    isCancelled: () => false,
    ...change,
  };
}

test('applies steps in order and notes each', async () => {
  const store = new MemoryStore();
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

test('a step that fails is noted, its sidecar is not written, and the rest goes on', async () => {
  const store = new MemoryStore();
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
  const store = new MemoryStore();
  store.files.set('a.mp3', bytes('old'));
  const check = async () => {
    throw new StepError('readBackDiffers', 'title');
  };
  const end = await applyRun(journalOf([copy('a.mp3')]), store, effects({ check }));
  expect(end.outcomes[0]).toMatchObject({ type: 'failed', code: 'readBackDiffers' });
  expect(texts(store)).toEqual({ 'a.mp3': 'old' });
});

test('a player that stops answering stops the run; it resumes where it was', async () => {
  const store = new MemoryStore();
  const steps = [copy('1'), copy('2'), copy('3')];
  const write = store.write.bind(store);
  store.write = async (path, content) => {
    if (path === '2') throw new StoreError('unreachable', path);
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
    new MemoryStore(),
    effects({ isCancelled: () => ended > 0, progress: () => ended++ }),
  );
  expect(end.state).toBe('cancelled');
  expect(end.outcomes).toHaveLength(1);
});

test('taking back leaves alone what was changed since', async () => {
  const store = new MemoryStore();
  const steps = [copy('a'), copy('b')];
  const { outcomes } = await applyRun(journalOf(steps), store, effects());
  store.files.set('a', bytes('edited by somebody else'));
  const taken = await takeBack({ ...journalOf(steps), outcomes }, store, () => undefined);
  expect(taken).toEqual({ undone: 1, left: [{ path: 'a', code: 'changedSince' }] });
  expect(texts(store)).toEqual({ a: 'edited by somebody else' });
});

test('once taken as good, nothing is held any more', async () => {
  const store = new MemoryStore();
  store.files.set('a', bytes('old'));
  const steps = [copy('a')];
  const { outcomes } = await applyRun(journalOf(steps), store, effects());
  expect([...store.files.keys()].some((path) => path.startsWith(HOLD_FOLDER))).toBe(true);
  await takeAsGood({ ...journalOf(steps), outcomes }, store);
  expect([...store.files.keys()]).toEqual(['a']);
  expect([...store.folders]).toEqual([]);
});

describe('over made runs', () => {
  const path = fc.constantFrom('a/1', 'a/2', 'b/1', 'b/c/2', 'd');
  const step: fc.Arbitrary<Step> = fc.oneof(
    path.map((at) => copy(at)),
    path.map((at): Step => ({ type: 'remove', path: at })),
    fc
      .tuple(path, path)
      .map(([from, to]): Step => ({ type: 'move', from, path: to, item: null, signature: '' })),
    fc.constantFrom('a', 'e/f').map((at): Step => ({ type: 'makeFolder', path: at })),
  );
  const start = fc.uniqueArray(path);
  /** Each path is touched once: that is what plans give. */
  const steps = fc.array(step, { maxLength: 6 }).map((list) => {
    const touched = new Set<string>();
    return list.filter((one) => {
      const own = one.type === 'move' ? [one.from, one.path] : [one.path];
      if (new Set(own).size < own.length || own.some((at) => touched.has(at))) return false;
      own.forEach((at) => touched.add(at));
      return true;
    });
  });

  function filled(paths: readonly string[]): MemoryStore {
    const store = new MemoryStore();
    for (const at of paths) store.files.set(at, bytes(`old ${at}`));
    return store;
  }

  test('taking back gives the place as it was', async () => {
    await fc.assert(
      fc.asyncProperty(start, steps, async (paths, list) => {
        const store = filled(paths);
        const before = texts(store);
        const { outcomes } = await applyRun(journalOf(list), store, effects());
        const { left } = await takeBack({ ...journalOf(list), outcomes }, store, () => undefined);
        expect(left).toEqual([]);
        expect(texts(store)).toEqual(before);
      }),
      { seed: 21, numRuns: 400 },
    );
  });

  test('a run that broke off anywhere and is resumed ends as an unbroken one, and can be taken back', async () => {
    await fc.assert(
      fc.asyncProperty(start, steps, fc.nat(20), async (paths, list, cut) => {
        const whole = filled(paths);
        await applyRun(journalOf(list), whole, effects());
        const broken = filled(paths);
        const before = texts(broken);
        const saved = await breakOff(broken, list, cut);
        const { outcomes } = await applyRun(journalOf(list, saved), broken, effects());
        const visible = (store: MemoryStore) =>
          Object.entries(texts(store))
            .filter(([at]) => !at.startsWith(HOLD_FOLDER))
            .sort();
        expect(visible(broken)).toEqual(visible(whole));
        await takeBack({ ...journalOf(list), outcomes }, broken, () => undefined);
        expect(texts(broken)).toEqual(before);
      }),
      { seed: 22, numRuns: 400 },
    );
  });

  /** Runs until the store has been asked `calls` times to change something, then loses everything but the journal. */
  async function breakOff(store: MemoryStore, list: readonly Step[], calls: number): Promise<Outcome[]> {
    let saved: Outcome[] = [];
    let left = calls;
    const gone = new Error('the tab was closed');
    const guard =
      <A extends unknown[], R>(act: (...args: A) => Promise<R>) =>
      async (...args: A): Promise<R> => {
        if (left-- <= 0) throw gone;
        return act(...args);
      };
    const plain = { write: store.write, move: store.move, remove: store.remove };
    store.write = guard(store.write.bind(store));
    store.move = guard(store.move.bind(store));
    store.remove = guard(store.remove.bind(store));
    const save = async (outcomes: readonly Outcome[]) => {
      saved = [...outcomes];
    };
    await applyRun(journalOf(list), store, effects({ save })).catch((error: unknown) => {
      if (error !== gone) throw error;
    });
    Object.assign(store, plain);
    return saved;
  }
});
