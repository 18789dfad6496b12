import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { describe, expect, test } from 'vitest';
import { concat } from '$lib/core/bytes';
import { PieceReader } from '$lib/core/pieces';
import { Converter } from '$lib/server/converter';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';

const WANTED = { type: 'sound', sampleRate: 16_000, channels: 1 } as const;
const never = () => new AbortController().signal;
const body = (bytes: Uint8Array) => new Blob([bytes as Uint8Array<ArrayBuffer>]).stream();
const leftovers = () => readdirSync(tmpdir()).filter((name) => name.startsWith('lectorum-converter-'));
const fixture = (name: string) =>
  new Uint8Array(readFileSync(new URL(`../fixtures/containers/${name}`, import.meta.url)));

async function bytesOf(samples: Readable): Promise<number> {
  let count = 0;
  for await (const chunk of samples) count += (chunk as Buffer).length;
  return count;
}

/** The bytes of a film that comes in pieces, and the seconds that were told between them. */
async function filmOf(pieces: Readable): Promise<{ film: Uint8Array; told: number[] }> {
  const told: number[] = [];
  const film: Uint8Array[] = [];
  const reader = new PieceReader((kind, content) => {
    if (kind === 'bytes') film.push(content);
    else told.push(Number(new TextDecoder().decode(content)));
  });
  for await (const chunk of pieces) reader.add(chunk as Buffer);
  expect(reader.isWhole).toBe(true);
  return { film: concat(film), told };
}

/** Files of others that run beside this one may lie there, too: those that were there before are none of ours. */
async function leavesNothing(act: () => Promise<void>): Promise<void> {
  const before = new Set(leftovers());
  await act();
  await expect.poll(() => leftovers().filter((name) => !before.has(name))).toEqual([]);
}

test('where the machine has no converter, it says what to install', async () => {
  const none = new Converter('/nowhere/ffmpeg');
  expect(await none.isThere()).toBe(false);
  await expect(none.convert(body(Uint8Array.of(1)), WANTED, never())).rejects.toMatchObject({
    status: 501,
    message: 'ffmpeg is not installed on the machine that runs Lectorum',
  });
});

test('half a sound does not pass for a whole one, and what ends early says so', async () => {
  const program = join(mkdtempSync(join(tmpdir(), 'lectorum-')), 'converter');
  const lines = [
    '#!/bin/sh',
    '[ "$1" = -version ] && exit 0',
    'head -c 100000 /dev/zero',
    'echo torn >&2',
    'exit 1',
  ];
  writeFileSync(program, lines.join('\n'), { mode: 0o755 });
  await leavesNothing(async () => {
    const samples = await new Converter(program).convert(body(Uint8Array.of(1)), WANTED, never());
    await expect(bytesOf(samples)).rejects.toThrow('torn');
  });
});

describe.skipIf(!hasFfmpeg)('the converter of the server', () => {
  /** A second of DTS, which no browser decodes. */
  const dts = (): Uint8Array => {
    const path = join(mkdtempSync(join(tmpdir(), 'lectorum-')), 'x.mka');
    const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=1:sample_rate=48000', '-ac', '2'];
    spawnSync('ffmpeg', ['-v', 'error', ...tone, '-c:a', 'dca', '-strict', '-2', path]);
    return new Uint8Array(readFileSync(path));
  };

  test('gives the samples of a sound that no browser decodes, and leaves nothing behind', async () => {
    await leavesNothing(async () => {
      const converter = new Converter('ffmpeg');
      const samples = await converter.convert(
        body(dts()),
        { type: 'sound', sampleRate: 48_000, channels: 2 },
        never(),
      );
      expect((await bytesOf(samples)) / (48_000 * 8)).toBeCloseTo(1, 1);
      // Its only room is free again.
      const again = await converter.convert(body(fixture('tone.aiff')), WANTED, never());
      expect(await bytesOf(again)).toBe(32_000);
    });
  });

  test('refuses what is no sound, what is too large, and more than it can do at once', async () => {
    await leavesNothing(async () => {
      const converter = new Converter('ffmpeg', { bytes: 40_000, time: 60_000, atOnce: 1 });
      const decode = (bytes: Uint8Array) => converter.convert(body(bytes), WANTED, never());
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
        new Converter('ffmpeg').convert(body(new TextEncoder().encode(list)), WANTED, never()),
      ).rejects.toMatchObject({ status: 422 });
  });

  /** Two seconds of MPEG-2 with two sounds in Matroska. */
  const mpeg2 = (): Uint8Array => {
    const path = join(mkdtempSync(join(tmpdir(), 'lectorum-')), 'x.mkv');
    const source = (what: string) => ['-f', 'lavfi', '-i', what];
    const from = [...source('testsrc=size=128x96:rate=25:duration=2'), ...source('sine=duration=2')];
    const maps = ['-map', '0', '-map', '1', '-map', '1', '-c:v', 'mpeg2video', '-c:a', 'ac3'];
    spawnSync('ffmpeg', ['-v', 'error', ...from, ...maps, path]);
    return new Uint8Array(readFileSync(path));
  };

  test('makes a film as it is asked for, and tells how far it is', async () => {
    const picture = { codec: 'avc', width: 64, height: 48, bitrate: 100_000 } as const;
    for (const [wanted, codecs] of [
      [{ type: 'video', picture, keepsSounds: false }, ['h264', 'flac', 'flac']],
      [{ type: 'video', picture: null, keepsSounds: true }, ['mpeg2video', 'ac3', 'ac3']],
    ] as const)
      await leavesNothing(async () => {
        const { film, told } = await filmOf(
          await new Converter('ffmpeg').convert(body(mpeg2()), wanted, never()),
        );
        expect(told.at(-1)).toBeGreaterThan(1);
        expect(told).toEqual([...told].sort((a, b) => a - b));
        const streams = withFile(film, 'mkv', (path) =>
          spawnSync('ffprobe', ['-v', 'error', '-of', 'csv=p=0', '-show_entries', 'stream=codec_name', path])
            .stdout.toString()
            .match(/\w+/g),
        );
        expect(streams).toEqual(codecs);
      });
  });

  test('ends with whoever asked', async () => {
    await leavesNothing(async () => {
      const stop = new AbortController();
      const converter = new Converter('ffmpeg');
      const long = spawnSync(
        'ffmpeg',
        [...['-v', 'error', '-f', 'lavfi', '-i', 'sine=duration=600', '-f', 'flac', 'pipe:1']],
        { maxBuffer: 1e9 },
      ).stdout;
      const samples = await converter.convert(
        body(long),
        { type: 'sound', sampleRate: 96_000, channels: 8 },
        stop.signal,
      );
      stop.abort();
      await expect(bytesOf(samples)).rejects.toThrow();
    });
  });
});
