import { describe, expect, test } from 'vitest';
import { memorySource, type ByteSource } from '../../src/lib/core/bytes';
import { UnreadableError, readMedia, readPicture } from '../../src/lib/formats/reading';
import { BOMBS } from './bombs';
import { smallFiles } from './demo-files';
import { mutate } from './mutate';
import { TRIAL_TIME, computed, seeded, sized, tell } from './size';

/** Milliseconds of computing and bytes that no file may pass, whatever it is. */
const MOST_MS = 2000;
const MOST_BYTES = 200 * 1024 * 1024;

interface Reading {
  readonly outcome: string;
  readonly ms: number;
}

/** Reads a file as a take-in does. Anything but a reading or a named reason is a fault. */
async function reading(source: ByteSource, path: string, evenCut = false): Promise<Reading> {
  const began = computed();
  const outcome = await readMedia(source, path, evenCut).then(
    () => 'read',
    (error: unknown) => {
      if (!(error instanceof UnreadableError)) throw error;
      return error.code;
    },
  );
  return { outcome, ms: computed() - began };
}

describe('files that ask for endless work', () => {
  test.each(BOMBS)('$name', { timeout: TRIAL_TIME }, async ({ path, source }) => {
    const made = source();
    const before = process.resourceUsage().maxRSS;
    const { outcome, ms } = await reading(made, path);
    // What cannot be taken in says why; a picture is asked for of what was.
    expect(['tooMuch', 'cutShort', 'unknownFormat', 'read']).toContain(outcome);
    expect(ms).toBeLessThan(MOST_MS);
    expect((process.resourceUsage().maxRSS - before) * 1024).toBeLessThan(MOST_BYTES);
    const began = computed();
    await readPicture(made, 0).catch(() => null);
    expect(computed() - began).toBeLessThan(MOST_MS);
  });
});

test('damaged files are read, or say why they are not, in time', { timeout: TRIAL_TIME }, async () => {
  const files = await smallFiles();
  const random = seeded(17);
  const count = sized(12_000, 700);
  const outcomes = new Map<string, number>();
  let slowest = 0;
  for (let index = 0; index < count; index++) {
    const { path, bytes } = files[index % files.length] as (typeof files)[number];
    const mutated = mutate(bytes, random);
    try {
      const { outcome, ms } = await reading(memorySource(mutated), path, index % 5 === 0);
      outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1);
      slowest = Math.max(slowest, ms);
      expect(ms).toBeLessThan(MOST_MS);
    } catch (error) {
      if (error instanceof Error) error.message = `case ${index}, ${path}: ${error.message}`;
      throw error;
    }
  }
  // The trial must meet both sides, or it tries nothing.
  expect(outcomes.get('read')).toBeGreaterThan(count / 10);
  expect(count - (outcomes.get('read') ?? 0)).toBeGreaterThan(count / 10);
  tell('mutated files read', { files: count, 'slowest ms': Math.round(slowest), failures: 0 });
});

test('a file that is cut is said to be, wherever its structure tells', { timeout: TRIAL_TIME }, async () => {
  const files = await smallFiles(3);
  const random = seeded(19);
  const perFile = sized(200, 30);
  let cuts = 0;
  let open = 0;
  for (const { path, bytes } of files) {
    expect((await reading(memorySource(bytes), path)).outcome, path).toBe('read');
    for (let index = 0; index < perFile; index++) {
      const at = Math.floor(random() * (bytes.length - 1)) + 1;
      const cut = memorySource(bytes.subarray(0, at));
      const { outcome } = await reading(cut, path);
      cuts++;
      if (outcome !== 'read') continue;
      // An MP3 without a header that counts its bytes says nothing of its length.
      if (path.endsWith('.mp3') && !countsBytes(bytes)) open++;
      else throw new Error(`${path} cut at ${at} of ${bytes.length} is taken for whole`);
    }
  }
  tell('cut files', { cuts, 'not told by structure': open, failures: 0 });
});

const countsBytes = (bytes: Uint8Array) =>
  /Xing|Info|VBRI/.test(Buffer.from(bytes.subarray(0, 400_000)).toString('latin1'));

test('what is there of a cut file can be had', async () => {
  for (const { path, bytes } of await smallFiles(1)) {
    const cut = memorySource(bytes.subarray(0, bytes.length - 20));
    expect([path, (await reading(cut, path)).outcome]).toEqual([
      path,
      path.endsWith('.mp3') && !countsBytes(bytes) ? 'read' : 'cutShort',
    ]);
    if (/\.(mkv|webm)$/.test(path)) continue;
    const whole = await readMedia(memorySource(bytes), path);
    const had = await readMedia(cut, path, true);
    expect(had.facts.isCut).toBe(true);
    // MP4, WAV and AIFF may describe themselves at their end, and have lost part of that.
    if (!['mp4', 'wav', 'aiff'].includes(whole.format)) expect([path, had.file]).toEqual([path, whole.file]);
  }
});
