import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeAll, describe, expect, test } from 'vitest';
import { memorySource } from '../../src/lib/core/bytes';
import { FormatError } from '../../src/lib/formats';
import { plainSamples, readPlainSound } from '../../src/lib/formats/riff';
import { hasFfmpeg } from '../helpers/foreign-readers';

const FORMATS = [
  ['wav', 'pcm_u8', 2 / 256],
  ['wav', 'pcm_s16le', 2 / 65_536],
  ['wav', 'pcm_s24le', 2 / 65_536],
  ['wav', 'pcm_s32le', 2 / 65_536],
  ['wav', 'pcm_f32le', 2 / 65_536],
  ['wav', 'pcm_f64le', 2 / 65_536],
  ['wav', 'pcm_alaw', 0.02],
  ['wav', 'pcm_mulaw', 0.02],
  ['aiff', 'pcm_s8', 2 / 256],
  ['aiff', 'pcm_s16be', 2 / 65_536],
  ['aiff', 'pcm_s24be', 2 / 65_536],
  ['aiff', 'pcm_s32be', 2 / 65_536],
  ['aiff', 'pcm_f32be', 2 / 65_536],
  ['aiff', 'pcm_s16le', 2 / 65_536],
  ['aiff', 'pcm_alaw', 0.02],
] as const;

describe.runIf(hasFfmpeg)('plain samples, held against ffmpeg', () => {
  let folder = '';
  const ffmpeg = (...args: string[]) =>
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 2 ** 26 });
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'plain-'));
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'aevalsrc=0.8*sin(2*PI*440*t)|0.5*sin(2*PI*1000*t):s=44100:d=1',
      '-acodec',
      'pcm_s16le',
      join(folder, 'tone.wav'),
    );
  });

  test.each(FORMATS)('%s with %s', async (ending, codec, apart) => {
    const file = join(folder, `${codec}.${ending}`);
    ffmpeg('-i', join(folder, 'tone.wav'), '-acodec', codec, file);
    const source = memorySource(new Uint8Array(readFileSync(file)));
    const sound = await readPlainSound(source);
    expect(sound).toMatchObject({ channels: 2, sampleRate: 44_100 });
    const own: number[] = [];
    for await (const [left, right] of plainSamples(source, sound))
      left!.forEach((value, at) => own.push(value, right![at]!));
    const bytes = ffmpeg('-i', file, '-f', 'f32le', '-acodec', 'pcm_f32le', '-');
    const theirs = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4);
    expect(own).toHaveLength(theirs.length);
    expect(own.reduce((most, value, at) => Math.max(most, Math.abs(value - theirs[at]!)), 0)).toBeLessThan(
      apart / 2,
    );
  });
});

test('what is packed in a manner that is not read here is named', async () => {
  const bytes = new Uint8Array(64);
  const text = (at: number, letters: string) =>
    bytes.set(
      [...letters].map((one) => one.charCodeAt(0)),
      at,
    );
  text(0, 'RIFF');
  bytes[4] = 56;
  text(8, 'WAVEfmt ');
  bytes.set([16, 0, 0, 0, 0x11, 0, 1, 0, 0x44, 0xac, 0, 0, 0x44, 0xac, 0, 0, 1, 0, 4, 0], 16);
  text(36, 'data');
  bytes[40] = 20;
  await expect(readPlainSound(memorySource(bytes))).rejects.toThrow(FormatError);
});
