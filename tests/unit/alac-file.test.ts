import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, test } from 'vitest';
import { cachedSource, memorySource } from '../../src/lib/core/bytes';
import { AlacEncoder, FRAME_SAMPLES, writeConfig } from '../../src/lib/formats/alac';
import { alacBox, SoundFile } from '../../src/lib/formats/mp4/sound-file';
import { readMedia } from '../../src/lib/formats/reading';
import { hasFfmpeg } from '../helpers/foreign-readers';
import { MemorySink } from '../helpers/memory-sink';

/** An M4A of Apple Lossless from samples, an array for each channel. @param expected packets that room is kept for */
async function fileOf(channels: readonly Int32Array[], bits: number, rate: number, expected: number) {
  const sink = new MemorySink();
  const encoder = new AlacEncoder(channels.length, bits, rate);
  const track = {
    codec: 'alac' as const,
    decoder: (most: number, average: number) => alacBox(writeConfig(encoder.config, most, average)),
    channels: channels.length,
    bits,
    sampleRate: rate,
    frameSamples: FRAME_SAMPLES,
    priming: 0,
  };
  const file = new SoundFile(sink, track, expected);
  const count = channels[0]!.length;
  for (let at = 0; at < count; at += FRAME_SAMPLES) {
    const frame = channels.map((channel) => channel.slice(at, at + FRAME_SAMPLES));
    await file.add([encoder.encode(frame)]);
  }
  expect(await file.finish(count)).toBe(sink.bytes.length);
  return sink.bytes;
}

/** Something like music: voices that come and go, and a little noise, the same each time. */
function music(count: number, bits: number, seed: number): Int32Array {
  let state = seed;
  const noise = () => (state = (Math.imul(state, 1_103_515_245) + 12_345) | 0) / 2 ** 31;
  return Int32Array.from({ length: count }, (_, at) => {
    const time = at / 44_100;
    const voices = [110, 220.5, 331, 447, 662].map(
      (hertz, voice) =>
        Math.sin(2 * Math.PI * hertz * time + seed) * Math.max(0, Math.sin(time * (1 + voice / 3) + voice)),
    );
    const sum = voices.reduce((all, one) => all + one, 0) / 6 + noise() * 0.01;
    return Math.round(sum * 0.8 * 2 ** (bits - 1));
  });
}

describe('a file of Apple Lossless', () => {
  test.each([64, 3])('is read as what it is, with room for %i packets before the sound', async (expected) => {
    const bytes = await fileOf([music(50_000, 16, 1), music(50_000, 16, 2)], 16, 44_100, expected);
    const read = await readMedia(cachedSource(memorySource(bytes)), 'x.m4a');
    expect(read.format).toBe('mp4');
    expect(read.facts.durationSeconds).toBeCloseTo(50_000 / 44_100, 4);
    expect(read.facts.streams).toMatchObject([
      { type: 'sound', codec: 'alac', channels: 2, sampleRate: 44_100 },
    ]);
  });
});

describe.runIf(hasFfmpeg)('held against ffmpeg', () => {
  let folder = '';
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'alac-'));
  });
  const run = (...args: string[]) =>
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 2 ** 28 });

  test.each([
    [16, 2, 44_100],
    [16, 1, 44_100],
    [24, 2, 96_000],
    [24, 1, 48_000],
  ])('%i bits, %i channels, %i Hz: decodes bit for bit, and is about as small', async (bits, count, rate) => {
    const channels = Array.from({ length: count }, (_, number) => music(200_000, bits, number + 1));
    const own = join(folder, `own-${bits}-${count}.m4a`);
    const bytes = await fileOf(channels, bits, rate, 64);
    writeFileSync(own, bytes);
    const decoded = run('-i', own, '-f', 's32le', '-acodec', 'pcm_s32le', '-');
    const plain = new Int32Array(200_000 * count);
    for (let at = 0; at < 200_000; at++)
      channels.forEach((channel, number) => (plain[at * count + number] = channel[at]! * 2 ** (32 - bits)));
    expect(Buffer.compare(decoded, Buffer.from(plain.buffer))).toBe(0);

    const raw = join(folder, 'raw');
    writeFileSync(raw, Buffer.from(plain.buffer));
    const theirs = join(folder, 'theirs.m4a');
    const format = bits === 16 ? 's16p' : 's32p';
    run(
      '-f',
      's32le',
      '-ar',
      String(rate),
      '-ac',
      String(count),
      '-i',
      raw,
      '-acodec',
      'alac',
      '-sample_fmt',
      format,
      theirs,
    );
    expect(bytes.length / readFileSync(theirs).length).toBeLessThan(1.03);
  });
});
