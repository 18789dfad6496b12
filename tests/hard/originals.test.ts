import { describe, expect, test } from 'vitest';
import { type Item, type Overlay } from '../../src/lib/core/items';
import { partsToPutBack, puttingBack } from '../../src/lib/core/originals';
import { StoreError } from '../../src/lib/core/run';
import { FIELDS, Gone, Originals, readFile, type Field, type Trouble } from './originals-world';
import { TRIAL_TIME, sample, seeded, sized, tell } from './size';

const PATHS = ['a.mp3', 'b.mp3', 'c.mp3'];
const WRITTEN: Overlay = { fields: { title: 'Ours', album: 'Our Album' } };

/** Three files, and a run that is to write into each; the second one's words do not fit its room. */
function house(): { readonly place: Originals; readonly run: number } {
  const place = new Originals();
  for (const path of PATHS) place.add(path, { title: `Title of ${path}`, comment: 'old' });
  const long = { fields: { ...WRITTEN.fields, album: 'A very long album '.repeat(12) } };
  const run = place.begin(new Map(PATHS.map((path) => [path, path === 'b.mp3' ? long : WRITTEN])));
  return { place, run };
}

const snapshot = ({ files }: Originals) =>
  new Map([...files].map(([path, bytes]) => [path, bytes.join(',')]));

async function countCalls(act: (place: Originals, run: number) => Promise<unknown>): Promise<number> {
  const { place, run } = house();
  await act(place, run);
  return place.calls;
}

/** Does what a cut may end. @throws whatever is not the cut's own */
async function untilCut(place: Originals, act: () => Promise<unknown>): Promise<void> {
  try {
    await act();
  } catch (error) {
    if (!(error instanceof Gone || error instanceof StoreError)) throw error;
  }
  place.revive();
}

const write = (place: Originals, run: number) => place.go(run);
const writeAndBack = async (place: Originals, run: number) => {
  await place.go(run);
  await place.takeBack(run);
};

describe('a run into originals', () => {
  test('cut at any call, goes on to its end or back to its start', { timeout: TRIAL_TIME }, async () => {
    const whole = house();
    const before = snapshot(whole.place);
    await whole.place.go(whole.run);
    const after = snapshot(whole.place);
    const calls = await countCalls(writeAndBack);
    let cuts = 0;
    for (let call = 0; call < calls; call++)
      for (const when of ['before', 'after'] as const)
        for (const goesOn of [true, false]) {
          const { place, run } = house();
          place.trouble = { call, when, does: 'gone' };
          let isBack = false;
          await untilCut(place, async () => {
            await place.go(run);
            isBack = true;
            await place.takeBack(run);
          });
          cuts++;
          if (goesOn && !isBack) {
            await place.go(run);
            expect([call, when, snapshot(place)]).toEqual([call, when, after]);
          }
          await place.takeBack(run);
          expect([call, when, snapshot(place)]).toEqual([call, when, before]);
        }
    tell('originals cut', { calls, cuts, failures: 0 });
  });

  test('an error at any call costs one file at most, by name', { timeout: TRIAL_TIME }, async () => {
    const calls = await countCalls(write);
    const codes = ['refused', 'gone', 'notAllowed', 'unreachable', 'unreadable', 'exists'] as const;
    let errors = 0;
    for (let call = 0; call < calls; call++)
      for (const when of ['before', 'after'] as const)
        for (const does of codes) {
          const { place, run } = house();
          const before = snapshot(place);
          place.trouble = { call, when, does };
          await untilCut(place, () => place.go(run));
          errors++;
          const own = place.runs[run] as Originals['runs'][number];
          const done = own.outcomes.filter((outcome) => outcome?.type === 'done').length;
          const isKept = own.outcomes.every(
            (outcome) => outcome?.type === 'done' || outcome?.type === 'failed',
          );
          // What the journal refused is taken up again; all else ends here, and the other files are written.
          if (!isKept || done < 2) await place.go(run);
          expect([call, when, does, own.outcomes.filter((one) => one?.type === 'done').length >= 2]).toEqual([
            call,
            when,
            does,
            true,
          ]);
          await place.takeBack(run);
          expect([call, when, does, snapshot(place)]).toEqual([call, when, does, before]);
        }
    tell('errors on the way into originals', { errors, failures: 0 });
  });

  test('an error on the way back costs one file at most', { timeout: TRIAL_TIME }, async () => {
    const first = await countCalls(write);
    const calls = await countCalls(writeAndBack);
    for (let call = first; call < calls; call++)
      for (const does of ['refused', 'gone', 'notAllowed', 'unreadable'] as const) {
        const { place, run } = house();
        const before = snapshot(place);
        await place.go(run);
        place.trouble = { call, when: 'before', does };
        let undone = PATHS.length;
        await untilCut(place, async () => (undone = (await place.takeBack(run)).undone));
        expect(undone).toBeGreaterThanOrEqual(PATHS.length - 1);
        await place.takeBack(run);
        expect(snapshot(place)).toEqual(before);
      }
  });

  test('another hand at any call loses nothing', { timeout: TRIAL_TIME }, async () => {
    const calls = await countCalls(writeAndBack);
    let hands = 0;
    const cases = Array.from({ length: calls }, (_, call) => call).flatMap((call) =>
      PATHS.flatMap((path) =>
        ([true, false] as const).flatMap((keepsTime) =>
          (['before', 'after'] as const).map((when) => ({ call, path, keepsTime, when })),
        ),
      ),
    );
    for (const { call, path, keepsTime, when } of sample(cases, sized(cases.length, 240))) {
      const { place, run } = house();
      const does: Trouble['does'] = () => place.hand(path, { comment: 'theirs' }, keepsTime);
      place.trouble = { call, when, does };
      await place.go(run);
      await place.takeBack(run);
      hands++;
      for (const one of PATHS) {
        const { said, sound } = readFile(place.files.get(one) as Uint8Array);
        expect([call, when, keepsTime, one, sound]).toEqual([call, when, keepsTime, one, `sound of ${one}`]);
        if (one === path)
          expect([call, when, keepsTime, said.comment]).toEqual([call, when, keepsTime, 'theirs']);
        else expect([call, said]).toEqual([call, { title: `Title of ${one}`, comment: 'old' }]);
      }
    }
    tell('another hand at originals', { hands, failures: 0 });
  });
});

/** Who wrote what a field says: every value that it had, the latest last, by the run that wrote it or by another hand. */
type Story = { readonly by: number | 'hand' | 'before'; readonly value: string | undefined }[];

describe('several runs', () => {
  test('taken back in any order, what came later stays', { timeout: TRIAL_TIME }, async () => {
    const random = seeded(31);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
    const houses = sized(6000, 300);
    let left = 0;
    let parts = 0;
    for (let index = 0; index < houses; index++) {
      const place = new Originals();
      const stories = new Map<string, Story>();
      const storyOf = (path: string, field: Field): Story => {
        const key = `${path} ${field}`;
        const story = stories.get(key) ?? [{ by: 'before', value: place.say(path)[field] }];
        stories.set(key, story);
        return story;
      };
      let word = 0;
      for (const path of PATHS) place.add(path, { title: `Title of ${path}`, comment: 'old' });
      for (const path of PATHS) for (const field of FIELDS) storyOf(path, field);
      const open: number[] = [];
      const hand = () => {
        const [path, field] = [pick(PATHS), pick(FIELDS)];
        const value = `hand ${word++}`;
        storyOf(path, field).push({ by: 'hand', value });
        place.hand(path, { [field]: value }, random() < 0.5);
      };
      const run = async () => {
        const changes = new Map(
          PATHS.filter(() => random() < 0.7).map((path) => [
            path,
            {
              fields: Object.fromEntries(
                FIELDS.filter(() => random() < 0.4).map((field) => [field, `run ${word++}`]),
              ),
            },
          ]),
        );
        const id = place.begin(changes);
        await place.go(id);
        for (const [path, { fields }] of changes)
          for (const field of Object.keys(fields) as Field[])
            storyOf(path, field).push({ by: id, value: fields[field] });
        open.push(id);
      };
      /** Taken back is what this run wrote and nobody wrote over. */
      const back = async () => {
        const [id] = open.splice(Math.floor(random() * open.length), 1) as [number];
        const taken = await place.takeBack(id);
        left += taken.left.length;
        const { jobs } = place.runs[id] as Originals['runs'][number];
        const offered = jobs.flatMap((job) => {
          const item = { ...(place.items.get(job.path) as Item), file: readAgain(place, job.path) };
          const isLeft = taken.left.some(({ path }) => path === job.path);
          const offer = isLeft ? puttingBack(job, item) : null;
          if (isLeft) parts += partsToPutBack(job, item).length;
          return offer ? [[job.path, offer] as const] : [];
        });
        if (offered.length > 0)
          await place.go(
            place.begin(
              new Map(offered.map(([path, { changes }]) => [path, changes])),
              new Map(offered.map(([path, { again }]) => [path, again])),
            ),
          );
        for (const { path, changes } of jobs)
          for (const field of Object.keys(changes.fields ?? {}) as Field[]) {
            const story = storyOf(path, field);
            const at = story.findIndex(({ by }) => by === id);
            // Only the last word is taken back; what was said over it stays, and goes back to what this run wrote.
            if (at === story.length - 1) story.pop();
          }
      };
      for (let act = 0; act < 8; act++) {
        const what = random();
        if (what < 0.4 || open.length === 0) await run();
        else if (what < 0.6) hand();
        else await back();
        for (const path of PATHS) {
          const { said, sound } = readFile(place.files.get(path) as Uint8Array);
          const wanted = Object.fromEntries(
            FIELDS.flatMap((field) => {
              const value = storyOf(path, field).at(-1)?.value;
              return value === undefined ? [] : [[field, value]];
            }),
          );
          expect([index, act, path, said, sound]).toEqual([index, act, path, wanted, `sound of ${path}`]);
        }
      }
    }
    expect(left).toBeGreaterThan(houses / 4);
    tell('runs into originals in any order', { houses, 'files changed since': left, parts, failures: 0 });
  });
});

const readAgain = (place: Originals, path: string): Item['file'] => {
  const item = place.items.get(path) as Item;
  const said = place.say(path);
  return {
    ...item.file,
    fields: { ...item.file.fields, ...Object.fromEntries(FIELDS.map((f) => [f, said[f] ?? null])) },
  };
};
