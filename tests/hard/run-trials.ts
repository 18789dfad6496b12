import { describe, expect, test } from 'vitest';
import type { Step } from '../../src/lib/core/plan';
import {
  applyRun,
  placedAfter,
  takeAsGood,
  takeBack,
  type Outcome,
  type Store,
  type StoreErrorCode,
} from '../../src/lib/core/run';
import { WAYS, cutting, untilCut, type Cut } from './cuts';
import {
  cloneStore,
  journalOf,
  makeRunWorld,
  plainEffects,
  snapshot,
  type RunWorld,
  type StoreKind,
  type TrialPlace,
} from './run-world';
import { TRIAL_TIME, sample, seeded, sized, tell } from './size';

interface Ground extends RunWorld {
  readonly kind: StoreKind;
  readonly start: ReturnType<typeof snapshot>;
  readonly end: ReturnType<typeof snapshot>;
  readonly placedEnd: ReturnType<typeof placedAfter>;
  readonly outcomes: readonly Outcome[];
  readonly endStore: TrialPlace;
  /** Calls of an uncut run. */
  readonly calls: number;
}

async function groundOf(kind: StoreKind): Promise<Ground> {
  const world = await makeRunWorld(kind);
  const endStore = await cloneStore(world.store, kind);
  const kit = cutting(endStore, { call: -1, way: 'errorBefore' });
  const { outcomes, state } = await applyRun(journalOf(world), kit.store, kit.effects);
  expect(state).toBe('finished');
  expect(outcomes.filter(({ type }) => type !== 'done')).toEqual([]);
  return {
    ...world,
    kind,
    start: snapshot(world.store),
    end: snapshot(endStore),
    placedEnd: sorted(placedAfter(journalOf(world, outcomes))),
    outcomes,
    endStore,
    calls: kit.calls(),
  };
}

const sorted = (placed: ReturnType<typeof placedAfter>) =>
  [...placed].sort((a, b) => (a.path < b.path ? -1 : 1));

/** Every file of the start is somewhere on the place, whole: at its own path, elsewhere, or held. */
function expectNothingLost({ start }: Ground, store: TrialPlace): void {
  const held = new Set(Object.values(snapshot(store)));
  for (const [path, content] of Object.entries(start))
    if (!path.endsWith('/') && !held.has(content)) throw new Error(`${path} is lost`);
}

const applyCut = async (ground: Ground, store: TrialPlace, cut: Cut, from: readonly Outcome[] = []) => {
  const kit = cutting(store, cut, from);
  await untilCut(() => applyRun(journalOf(ground, from), kit.store, kit.effects));
  expectNothingLost(ground, store);
  return kit.outcomes();
};

async function expectResumes(ground: Ground, broken: TrialPlace, saved: readonly Outcome[]): Promise<void> {
  const store = await cloneStore(broken, ground.kind);
  const { outcomes, state } = await applyRun(journalOf(ground, saved), store, plainEffects());
  expect(state).toBe('finished');
  expect(snapshot(store)).toEqual(ground.end);
  expect(sorted(placedAfter(journalOf(ground, outcomes)))).toEqual(ground.placedEnd);
  await expectTakenBack(ground, store, outcomes);
}

async function expectTakenBack(ground: Ground, broken: TrialPlace, saved: readonly Outcome[]): Promise<void> {
  const store = await cloneStore(broken, ground.kind);
  const { left } = await takeBack(journalOf(ground, saved), store, plainEffects());
  expect(left).toEqual([]);
  expect(snapshot(store)).toEqual(ground.start);
}

async function takeBackCut(
  ground: Ground,
  store: TrialPlace,
  cut: Cut,
  from: readonly Outcome[],
): Promise<readonly Outcome[]> {
  const kit = cutting(store, cut, from);
  await untilCut(() => takeBack(journalOf(ground, from), kit.store, kit.effects));
  expectNothingLost(ground, store);
  return kit.outcomes();
}

/** A store before each of whose calls something else happens. */
function before(store: Store<Uint8Array>, act: () => Promise<void>): Store<Uint8Array> {
  return new Proxy(store, {
    get: (target, name) =>
      name === 'holding'
        ? target.holding
        : async (...args: never[]) => {
            await act();
            const call = target[name as keyof Store<Uint8Array>] as (...all: never[]) => Promise<unknown>;
            return call(...args);
          },
  });
}

const everyCut = (calls: number, extra: Partial<Cut> = {}): readonly Cut[] =>
  Array.from({ length: calls }, (_, call) => WAYS.map((way) => ({ call, way, ...extra }))).flat();

const named = (cut: Cut) => `call ${cut.call}, ${cut.way}${cut.code ? ` ${cut.code}` : ''}`;
const told = async (what: string, act: () => Promise<void>) => {
  try {
    await act();
  } catch (error) {
    if (error instanceof Error) error.message = `${what}: ${error.message}`;
    throw error;
  }
};

/** Tries runs over one kind of store at every point. */
export function tryRuns(kind: StoreKind): void {
  describe(`a run over a place ${kind.name}`, () => {
    let known: Promise<Ground> | null = null;
    const ground = () => (known ??= groundOf(kind));

    test('has every sort of step, and nothing more to do afterwards', async () => {
      const { steps, end, start } = await ground();
      expect(steps.length).toBeGreaterThanOrEqual(48);
      const types = new Set(steps.map(({ type }) => type));
      expect(types).toEqual(new Set(['makeFolder', 'copy', 'writePicture', 'writeText', 'move', 'remove']));
      expect(steps.filter((step) => step.type === 'copy' && step.replaces).length).toBeGreaterThan(3);
      // Twins among them: one that is called otherwise, one of another recording, and a new one.
      const twins = steps.filter((step) => step.type === 'copy' && step.recipe.type === 'twin');
      expect(twins.filter((step) => 'replaces' in step && step.replaces).length).toBeGreaterThan(0);
      expect(twins.length).toBeGreaterThanOrEqual(3);
      expect(end).not.toEqual(start);
    });

    test(
      'cut at any call and resumed, it ends as an uncut one; taken back, the place is as it was',
      { timeout: TRIAL_TIME },
      async () => {
        const made = await ground();
        const cuts = sample(everyCut(made.calls), sized(Infinity, 120), 1);
        for (const cut of cuts)
          await told(named(cut), async () => {
            const store = await cloneStore(made.store, kind);
            const saved = await applyCut(made, store, cut);
            await expectTakenBack(made, store, saved);
            await expectResumes(made, store, saved);
          });
        tell(`runs ${kind.name}`, {
          steps: made.steps.length,
          calls: made.calls,
          cuts: cuts.length,
          failures: 0,
        });
      },
    );

    test('cut twice, the same', { timeout: TRIAL_TIME }, async () => {
      const made = await ground();
      const random = seeded(7);
      const any = (): Cut => ({
        call: Math.floor(random() * made.calls),
        way: WAYS[Math.floor(random() * WAYS.length)] as Cut['way'],
      });
      const count = sized(1500, 30);
      for (let index = 0; index < count; index++) {
        const [first, second] = [any(), any()];
        await told(`${named(first)}, then ${named(second)}`, async () => {
          const store = await cloneStore(made.store, kind);
          const once = await applyCut(made, store, first);
          const twice = await applyCut(made, store, { ...second, call: second.call % 40 }, once);
          await expectTakenBack(made, store, twice);
          await expectResumes(made, store, twice);
        });
      }
      tell(`double cuts ${kind.name}`, { cuts: count, failures: 0 });
    });

    test('taken back in two halves, the place is as it was', { timeout: TRIAL_TIME }, async () => {
      const made = await ground();
      const counting = cutting(await cloneStore(made.endStore, kind), { call: -1, way: 'errorBefore' });
      await takeBack(journalOf(made, made.outcomes), counting.store, counting.effects);
      const cuts = sample(everyCut(counting.calls()), sized(Infinity, 90), 3);
      for (const cut of cuts)
        await told(named(cut), async () => {
          const store = await cloneStore(made.endStore, kind);
          const saved = await takeBackCut(made, store, cut, made.outcomes);
          await expectTakenBack(made, store, saved);
        });
      tell(`take-backs in two halves ${kind.name}`, { cuts: cuts.length, failures: 0 });
    });

    test('cut, and its taking back cut too, the place is as it was', { timeout: TRIAL_TIME }, async () => {
      const made = await ground();
      const random = seeded(11);
      const count = sized(1500, 40);
      for (let index = 0; index < count; index++) {
        const way = () => WAYS[Math.floor(random() * WAYS.length)] as Cut['way'];
        const first: Cut = { call: Math.floor(random() * made.calls), way: way() };
        const second: Cut = { call: Math.floor(random() * 60), way: way() };
        await told(`${named(first)}, then back and ${named(second)}`, async () => {
          const store = await cloneStore(made.store, kind);
          const saved = await applyCut(made, store, first);
          await expectTakenBack(made, store, await takeBackCut(made, store, second, saved));
        });
      }
      tell(`cut runs, cut take-backs ${kind.name}`, { cuts: count, failures: 0 });
    });

    const CODES: readonly StoreErrorCode[] = ['refused', 'gone', 'exists', 'full', 'notAllowed'];
    test.each(CODES)(
      'an error "%s" at any call loses nothing, and is taken back whole',
      { timeout: TRIAL_TIME },
      async (code) => {
        const made = await ground();
        const cuts = sample(
          everyCut(made.calls, { code }).filter(({ way }) => way.startsWith('error')),
          sized(Infinity, 25),
          5,
        );
        for (const cut of cuts)
          await told(named(cut), async () => {
            const store = await cloneStore(made.store, kind);
            await expectTakenBack(made, store, await applyCut(made, store, cut));
          });
        tell(`errors ${code} ${kind.name}`, { cuts: cuts.length, failures: 0 });
      },
    );

    test(
      'another hand puts a file in the way at any call: it stays, and nothing is lost',
      { timeout: TRIAL_TIME },
      async () => {
        const made = await ground();
        const ways = made.steps.filter(({ type }) => type !== 'makeFolder');
        const random = seeded(13);
        const count = sized(3000, 150);
        let met = 0;
        for (let index = 0; index < count; index++) {
          const step = ways[Math.floor(random() * ways.length)] as Step;
          const at = step.type === 'move' && random() < 0.3 ? step.from : step.path;
          const call = Math.floor(random() * made.calls);
          await told(`a file at ${at} before call ${call}`, async () => {
            const store = await cloneStore(made.store, kind);
            const own = new TextEncoder().encode(`intruder ${index}`.padEnd(160));
            const kit = cutting(store, null);
            let put = false;
            const intrude = async () => {
              // Where something stands there still, it waits until its path is free.
              if (kit.calls() < call || put) return;
              // It never writes over what is there: that would be its own loss.
              if ((await store.find(at)) || (await store.hasFolder(at))) return;
              put = true;
              store.put(at, own);
            };
            const { outcomes } = await applyRun(journalOf(made), before(kit.store, intrude), kit.effects);
            expectNothingLost(made, store);
            await takeBack(journalOf(made, outcomes), store, plainEffects());
            expectNothingLost(made, store);
            const now = snapshot(store);
            const text = new TextDecoder().decode(own);
            if (!put) return expect(now).toEqual(made.start);
            met++;
            expect(Object.values(now)).toContain(text);
          });
        }
        expect(met).toBeGreaterThan(count / 5);
        tell(`another hand ${kind.name}`, { files: met, failures: 0 });
      },
    );

    test('taken as good, what others put there is untouched and nothing of the run is left behind', async () => {
      const made = await ground();
      const store = await cloneStore(made.endStore, kind);
      const counting = cutting(store, { call: 9, way: 'errorAfter' });
      await untilCut(() => takeAsGood(journalOf(made, made.outcomes), counting.store));
      await takeAsGood(journalOf(made, made.outcomes), store);
      const visible = Object.entries(made.end).filter(([path]) => !path.startsWith('.lectorum-held'));
      expect(snapshot(store)).toEqual(Object.fromEntries(visible));
    });
  });
}
