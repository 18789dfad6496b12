import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { describe, expect, test } from 'vitest';
import { Decoder } from '$lib/server/decoder';
import { hasFfmpeg } from '../helpers/foreign-readers';

const WANTED = { sampleRate: 16_000, channels: 1 };
const never = () => new AbortController().signal;
const body = (bytes: Uint8Array) => new Blob([bytes as Uint8Array<ArrayBuffer>]).stream();
const leftovers = () => readdirSync(tmpdir()).filter((name) => name.startsWith('lectorum-decoder-'));
const fixture = (name: string) =>
  new Uint8Array(readFileSync(new URL(`../fixtures/containers/${name}`, import.meta.url)));

async function bytesOf(samples: Readable): Promise<number> {
  let count = 0;
  for await (const chunk of samples) count += (chunk as Buffer).length;
  return count;
}

/** Files of others that run beside this one may lie there, too: those that were there before are none of ours. */
async function leavesNothing(act: () => Promise<void>): Promise<void> {
  const before = new Set(leftovers());
  await act();
  await expect.poll(() => leftovers().filter((name) => !before.has(name))).toEqual([]);
}

test('where the machine has no decoder, it says what to install', async () => {
  const none = new Decoder('/nowhere/ffmpeg');
  expect(await none.isThere()).toBe(false);
  await expect(none.decode(body(Uint8Array.of(1)), WANTED, never())).rejects.toMatchObject({
    status: 501,
    message: 'ffmpeg is not installed on the machine that runs Lectorum',
  });
});

test('half a sound does not pass for a whole one, and what ends early says so', async () => {
  const program = join(mkdtempSync(join(tmpdir(), 'lectorum-')), 'decoder');
  const lines = [
    '#!/bin/sh',
    '[ "$1" = -version ] && exit 0',
    'head -c 100000 /dev/zero',
    'echo torn >&2',
    'exit 1',
  ];
  writeFileSync(program, lines.join('\n'), { mode: 0o755 });
  await leavesNothing(async () => {
    const samples = await new Decoder(program).decode(body(Uint8Array.of(1)), WANTED, never());
    await expect(bytesOf(samples)).rejects.toThrow('torn');
  });
});

describe.skipIf(!hasFfmpeg)('the decoder of the server', () => {
  /** A second of DTS, which no browser decodes. */
  const dts = (): Uint8Array => {
    const path = join(mkdtempSync(join(tmpdir(), 'lectorum-')), 'x.mka');
    const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=1:sample_rate=48000', '-ac', '2'];
    spawnSync('ffmpeg', ['-v', 'error', ...tone, '-c:a', 'dca', '-strict', '-2', path]);
    return new Uint8Array(readFileSync(path));
  };

  test('gives the samples of a sound that no browser decodes, and leaves nothing behind', async () => {
    await leavesNothing(async () => {
      const decoder = new Decoder('ffmpeg');
      const samples = await decoder.decode(body(dts()), { sampleRate: 48_000, channels: 2 }, never());
      expect((await bytesOf(samples)) / (48_000 * 8)).toBeCloseTo(1, 1);
      // Its only room is free again.
      const again = await decoder.decode(body(fixture('tone.aiff')), WANTED, never());
      expect(await bytesOf(again)).toBe(32_000);
    });
  });

  test('refuses what is no sound, what is too large, and more than it can do at once', async () => {
    await leavesNothing(async () => {
      const decoder = new Decoder('ffmpeg', { bytes: 40_000, time: 60_000, atOnce: 1 });
      const decode = (bytes: Uint8Array) => decoder.decode(body(bytes), WANTED, never());
      await expect(decode(new Uint8Array(5000).fill(7))).rejects.toMatchObject({ status: 422 });
      await expect(decode(new Uint8Array(50_000))).rejects.toMatchObject({ status: 413 });
      const first = await decode(fixture('tone.aiff'));
      await expect(decode(fixture('tone.aiff'))).rejects.toMatchObject({ status: 503 });
      await bytesOf(first);
    });
  });

  test('a list that leads to files of the machine is not followed', async () => {
    const secret = join(mkdtempSync(join(tmpdir(), 'lectorum-')), 'secret.aiff');
    writeFileSync(secret, fixture('tone.aiff'));
    for (const list of [
      `ffconcat version 1.0\nfile '${secret}'\n`,
      `#EXTM3U\n#EXTINF:1,\nfile://${secret}\n`,
    ])
      await expect(
        new Decoder('ffmpeg').decode(body(new TextEncoder().encode(list)), WANTED, never()),
      ).rejects.toMatchObject({ status: 422 });
  });

  test('ends with whoever asked', async () => {
    await leavesNothing(async () => {
      const stop = new AbortController();
      const decoder = new Decoder('ffmpeg');
      const long = spawnSync(
        'ffmpeg',
        [...['-v', 'error', '-f', 'lavfi', '-i', 'sine=duration=600', '-f', 'flac', 'pipe:1']],
        { maxBuffer: 1e9 },
      ).stdout;
      const samples = await decoder.decode(body(long), { sampleRate: 96_000, channels: 8 }, stop.signal);
      stop.abort();
      await expect(bytesOf(samples)).rejects.toThrow();
    });
  });
});
