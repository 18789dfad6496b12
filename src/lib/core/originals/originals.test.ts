import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { joinSpans, memorySource, type ByteSource, type Span } from '../bytes';
import { EMPTY_FIELDS, editItem, type Item, type ItemId, type SourceId } from '../items';
import { StepError, StoreError } from '../run';
import {
  backOf,
  changeOf,
  takeBackOriginals,
  withTakenBack,
  withWritten,
  writeOriginals,
  type FileChange,
  type Guard,
  type OriginalEffects,
  type OriginalJob,
  type OriginalOutcome,
  type OriginalPlace,
} from '.';
import { makeItem } from '../../../../tests/helpers/items';

const RUNS = { numRuns: 500, seed: 20261126 };

/** The lights went out. */
class Cut extends Error {}

/** Originals in memory. A write is there whole or not at all, as the browser does it. */
class MemoryOriginals implements OriginalPlace {
  readonly files = new Map<string, Uint8Array>();
  modified = 1;
  /** Bytes that may still be written before the lights go out. */
  power = Infinity;
  refuses: StoreError['code'] | null = null;

  async open({ path }: OriginalJob) {
    const bytes = this.files.get(path);
    if (!bytes) throw new StoreError('gone', path);
    return { bytes: memorySource(bytes), modified: this.modified };
  }

  async write({ path }: OriginalJob, { spans, over, length }: FileChange, guard: Guard): Promise<void> {
    if (this.refuses) throw new StoreError(this.refuses, path);
    const old = this.files.get(path) ?? new Uint8Array();
    await guard({ bytes: memorySource(old), modified: this.modified });
    const next = over
      ? Uint8Array.from({ length }, (_, index) => old[index] ?? 0)
      : await joinSpans(memorySource(old), spans);
    for (const { at, bytes } of over ?? []) next.set(bytes, at);
    this.use(next.length);
    this.files.set(path, next);
  }

  private use(bytes: number): void {
    this.power -= bytes;
    if (this.power < 0) throw new Cut();
  }
}

const digest = async (source: ByteSource) => (await source.read(0, source.size)).join(',');

interface Made {
  readonly place: MemoryOriginals;
  readonly jobs: readonly OriginalJob[];
  readonly outcomes: (OriginalOutcome | undefined)[];
  readonly effects: OriginalEffects;
  readonly was: ReadonlyMap<string, Uint8Array>;
}

function make(files: readonly { bytes: Uint8Array; spans: readonly Span[] }[]): Made {
  const place = new MemoryOriginals();
  const outcomes: (OriginalOutcome | undefined)[] = [];
  const jobs = files.map(({ bytes }, index): OriginalJob => {
    place.files.set(`${index}.mp3`, bytes);
    return {
      item: `i${index}` as ItemId,
      source: 's' as SourceId,
      path: `${index}.mp3`,
      size: bytes.length,
      modified: 1,
      format: 'mp3',
      changes: {},
      before: {},
      expect: EMPTY_FIELDS,
    };
  });
  const effects: OriginalEffects = {
    rewrite: async (job) => files[jobs.indexOf(job)]?.spans ?? [],
    check: async () => {},
    digest,
    save: async (index, outcome) => {
      outcomes[index] = structuredClone(outcome);
    },
    progress: () => {},
    isCancelled: () => false,
  };
  return { place, jobs, outcomes, effects, was: new Map(place.files) };
}

/** A file of bytes that tell their place, and a rewrite of it: parts dropped, new ones put between, some moved. */
const rewrites = fc
  .tuple(
    fc.array(
      fc.record({
        length: fc.integer({ min: 1, max: 6 }),
        made: fc.integer({ min: 0, max: 6 }),
        keeps: fc.boolean(),
      }),
      {
        minLength: 1,
        maxLength: 8,
      },
    ),
    fc.boolean(),
    fc.boolean(),
  )
  .map(([parts, inPlace, turned]) => {
    const size = parts.reduce((sum, { length }) => sum + length, 0);
    const bytes = Uint8Array.from({ length: size }, (_, index) => index);
    let at = 0;
    const spans = parts.map(({ length, made, keeps }, index): Span => {
      const start = at;
      at += length;
      if (keeps) return { type: 'kept', start, end: at };
      const isLast = index === parts.length - 1;
      return { type: 'new', bytes: new Uint8Array(inPlace && !isLast ? length : made).fill(200 + index) };
    });
    return { bytes, spans: !inPlace && turned ? spans.reverse() : spans };
  });
const houses = fc.array(rewrites, { minLength: 1, maxLength: 3 });

async function joined(bytes: Uint8Array, spans: readonly Span[]): Promise<string> {
  return (await joinSpans(memorySource(bytes), spans)).join(',');
}

describe('the way back', () => {
  test('makes any file from what any rewrite made of it, and holds nothing that is kept', async () => {
    await fc.assert(
      fc.asyncProperty(rewrites, async ({ bytes, spans }) => {
        const back = await backOf(memorySource(bytes), spans);
        const changed = await joinSpans(memorySource(bytes), spans);
        expect(await joined(changed, back)).toBe(bytes.join(','));
        const held = back.flatMap((span) => (span.type === 'new' ? [...span.bytes] : []));
        const kept = new Set(
          spans.flatMap((span) => (span.type === 'kept' ? [...bytes.subarray(span.start, span.end)] : [])),
        );
        expect(held.filter((byte) => kept.has(byte))).toEqual([]);
      }),
      RUNS,
    );
  });

  test('a tag that fits its room is written over in place, one that does not is written anew', () => {
    const bytes = new Uint8Array(4);
    const behind = { type: 'kept', start: 4, end: 20 } as const;
    expect(changeOf([{ type: 'new', bytes }, behind]).over).toEqual([{ at: 0, bytes }]);
    expect(changeOf([{ type: 'new', bytes: new Uint8Array(5) }, behind]).over).toBeNull();
    // A longer end moves nothing.
    const end = { type: 'new', bytes } as const;
    expect(changeOf([{ type: 'kept', start: 0, end: 20 }, end])).toMatchObject({
      length: 24,
      over: [{ at: 20, bytes }],
    });
  });
});

describe('writing originals', () => {
  test('cut at any byte, each is the old or the new one after going on or taking back', async () => {
    await fc.assert(
      fc.asyncProperty(
        houses,
        fc.integer({ min: 0, max: 60 }),
        fc.boolean(),
        async (files, power, goesOn) => {
          const { place, jobs, outcomes, effects, was } = make(files);
          place.power = power;
          try {
            await writeOriginals(jobs, [], place, effects);
          } catch (error) {
            expect(error).toBeInstanceOf(Cut);
          }
          place.power = Infinity;
          // A file that was written over has another time.
          place.modified = goesOn && outcomes.every((one) => one === undefined) ? 1 : place.modified;
          if (goesOn) {
            expect(await writeOriginals(jobs, outcomes, place, effects)).toEqual({
              state: 'finished',
              reason: null,
            });
            for (const [index, { bytes, spans }] of files.entries())
              expect(place.files.get(`${index}.mp3`)?.join(',')).toBe(await joined(bytes, spans));
          }
          await takeBackOriginals(jobs, outcomes, place, effects);
          for (const [path, bytes] of was) expect(place.files.get(path)?.join(',')).toBe(bytes.join(','));
        },
      ),
      RUNS,
    );
  });

  test('taking back that is cut goes on', async () => {
    await fc.assert(
      fc.asyncProperty(houses, fc.integer({ min: 0, max: 30 }), async (files, power) => {
        const { place, jobs, outcomes, effects, was } = make(files);
        await writeOriginals(jobs, [], place, effects);
        place.power = power;
        await takeBackOriginals(jobs, outcomes, place, effects).catch((error: unknown) =>
          expect(error).toBeInstanceOf(Cut),
        );
        place.power = Infinity;
        await takeBackOriginals(jobs, outcomes, place, effects);
        for (const [path, bytes] of was) expect(place.files.get(path)?.join(',')).toBe(bytes.join(','));
        expect(outcomes.every((outcome) => outcome?.type === 'undone')).toBe(true);
      }),
      RUNS,
    );
  });

  const two = () =>
    make(
      [0, 1].map(() => ({
        bytes: Uint8Array.of(1, 2, 3, 4),
        spans: [
          { type: 'new', bytes: Uint8Array.of(9, 9) },
          { type: 'kept', start: 2, end: 4 },
        ],
      })),
    );

  test('one that is not as it was taken in is left alone, and the next one goes on', async () => {
    const { place, jobs, outcomes, effects } = two();
    place.files.set('0.mp3', Uint8Array.of(7));
    await writeOriginals(jobs, [], place, effects);
    expect(outcomes[0]).toMatchObject({ type: 'failed', code: 'changedSince' });
    expect([...(place.files.get('0.mp3') ?? [])]).toEqual([7]);
    expect([...(place.files.get('1.mp3') ?? [])]).toEqual([9, 9, 3, 4]);
  });

  test('nothing is changed where what is about to be written does not say what it should', async () => {
    const { place, jobs, outcomes, effects, was } = two();
    const check = () => Promise.reject(new StepError('readBackDiffers', 'reads back otherwise: Title'));
    await writeOriginals(jobs, [], place, { ...effects, check });
    expect(outcomes).toMatchObject([{ code: 'readBackDiffers' }, { code: 'readBackDiffers' }]);
    expect(place.files).toEqual(was);
  });

  test('a full disk stops it, with nothing lost; a file that refuses does not', async () => {
    const { place, jobs, outcomes, effects, was } = two();
    place.refuses = 'notAllowed';
    expect((await writeOriginals(jobs, [], place, effects)).state).toBe('finished');
    expect(outcomes).toMatchObject([{ code: 'notAllowed' }, { code: 'notAllowed' }]);
    place.refuses = 'full';
    expect(await writeOriginals(jobs, [], place, effects)).toEqual({ state: 'stopped', reason: 'full' });
    expect(place.files).toEqual(was);
    place.refuses = null;
    await writeOriginals(jobs, [outcomes[0]], place, effects);
    expect(outcomes.map((outcome) => outcome?.type)).toEqual(['done', 'done']);
  });

  test('what another hand changed since is not taken back, and told', async () => {
    const { place, jobs, outcomes, effects } = two();
    await writeOriginals(jobs, [], place, effects);
    place.files.set('1.mp3', Uint8Array.of(9, 9, 3, 5));
    const taken = await takeBackOriginals(jobs, outcomes, place, effects);
    expect(taken).toEqual({ undone: 1, left: [{ path: '1.mp3', code: 'changedSince' }] });
    expect([...(place.files.get('0.mp3') ?? [])]).toEqual([1, 2, 3, 4]);
    expect([...(place.files.get('1.mp3') ?? [])]).toEqual([9, 9, 3, 5]);
  });
});

describe('what is said of an item', () => {
  const saying = (item: Item, title: string): Item => ({
    ...item,
    file: { ...item.file, fields: { ...item.file.fields, title } },
  });

  test('is gone once its file says it; what was said since stays', () => {
    const item = editItem(makeItem('1', { title: 'Low Water' }), {
      title: 'High Water',
      album: 'Tides',
    });
    const since = editItem(item, { genre: ['folk'] });
    const read = { ...saying(since, 'High Water') };
    const now = withWritten(
      { ...read, file: { ...read.file, fields: { ...read.file.fields, album: 'Tides' } } },
      item.edits,
    );
    expect(now.edits).toEqual({ fields: { genre: ['folk'] } });
    const back = withTakenBack({ ...now, file: item.file }, item.edits);
    expect(back.edits).toEqual({ fields: { title: 'High Water', album: 'Tides', genre: ['folk'] } });
  });
});
