import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { ascii, concat, memorySource, u32, u32le } from '../../src/lib/core/bytes';
import { readMedia } from '../../src/lib/formats/reading';
import { demoMemory } from '../helpers/demo';
import { hasFfmpeg } from '../helpers/foreign-readers';

/* How long a file lasts and what its sound is, where its header does not say it plainly. */

const read = (bytes: Uint8Array, name: string) => readMedia(memorySource(bytes), name);

/** A frame of MPEG-1 Layer III at 44100 Hz, of silence. @param index of its bit rate */
function frame(index: number): Uint8Array {
  const kilobits = [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320][index] ?? 0;
  const bytes = new Uint8Array(Math.floor((144_000 * kilobits) / 44_100));
  bytes.set([0xff, 0xfb, index << 4, 0x44]);
  return bytes;
}
const TITLE = concat([ascii('TIT2'), u32(6), new Uint8Array([0, 0, 0]), ascii('Title')]);
const ID3 = concat([ascii('ID3'), new Uint8Array([3, 0, 0, 0, 0, 0, TITLE.length]), TITLE]);
const frames = (rates: readonly number[]) => concat(rates.map(frame));

describe('MP3 whose frames nobody counted', () => {
  test('lasts as long as its bytes say where all have one bit rate', async () => {
    const sound = frames(Array.from({ length: 800 }, () => 9));
    const { facts } = await read(concat([ID3, sound]), 'a.mp3');
    expect(facts.durationSeconds).toBeCloseTo((sound.length * 8) / 128_000, 6);
    expect([facts.isAbout, facts.soundBytes]).toEqual([undefined, sound.length]);
  });

  test('lasts about as long as frames from all over it say where they differ', async () => {
    // Quiet at first: by its first frame alone it would last nearly ten times as long.
    const rates = Array.from({ length: 3000 }, (_, index) => (index < 60 ? 1 : 11 + (index % 4)));
    const { facts } = await read(concat([ID3, frames(rates)]), 'a.mp3');
    const seconds = (rates.length * 1152) / 44_100;
    expect(facts.isAbout).toBe(true);
    expect(Math.abs((facts.durationSeconds ?? 0) / seconds - 1)).toBeLessThan(0.05);
  });

  test('does not count what stands behind its sound', async () => {
    const sound = frames(Array.from({ length: 200 }, () => 9));
    const old = concat([ascii('TAG'), new Uint8Array(125)]);
    const { facts } = await read(concat([ID3, sound, old]), 'a.mp3');
    expect([facts.soundBytes, facts.durationSeconds]).toEqual([sound.length, (sound.length * 8) / 128_000]);
  });
});

const chunk = (id: string, body: Uint8Array, order: 'riff' | 'iff' = 'riff') =>
  concat([ascii(id), (order === 'riff' ? u32le : u32)(body.length), body, new Uint8Array(body.length % 2)]);
const wave = (...chunks: readonly Uint8Array[]) => {
  const body = concat([ascii('WAVE'), ...chunks]);
  return concat([ascii('RIFF'), u32le(body.length), body]);
};
const u16le = (...values: readonly number[]) =>
  new Uint8Array(values.flatMap((value) => [value & 255, value >> 8]));
/** Two channels at 8000 Hz of 16 bits. */
const format = (sort: number, more: Uint8Array = new Uint8Array(0)) =>
  chunk('fmt ', concat([u16le(sort, 2), u32le(8000), u32le(32_000), u16le(4, 16), more]));
const SOUND = new Uint8Array(64_000);

describe('WAV and AIFF', () => {
  test('an extensible format is told by what it extends', async () => {
    const guid = concat([
      u16le(22, 16),
      u32le(3),
      u16le(3),
      ascii('\0\0\0\0\x10\0\x80\0\0\xaa\0\x38\x9b\x71'),
    ]);
    const { facts } = await read(wave(format(0xfffe, guid), chunk('data', SOUND)), 'a.wav');
    expect(facts.streams).toMatchObject([{ codec: 'PCM float', channels: 2, sampleRate: 8000 }]);
    expect([facts.durationSeconds, facts.soundBytes]).toEqual([2, SOUND.length]);
  });

  test('RF64 lasts as long as its own sizes say', async () => {
    const sizes = chunk('ds64', concat([u32le(0), u32le(0), u32le(SOUND.length), new Uint8Array(16)]));
    const data = concat([ascii('data'), u32le(0xffffffff), SOUND]);
    const file = concat([ascii('RF64'), u32le(0xffffffff), ascii('WAVE'), sizes, format(1), data]);
    const { facts } = await read(file, 'a.wav');
    expect([facts.durationSeconds, facts.streams[0]?.codec]).toEqual([2, 'PCM']);
  });

  test('sound whose bytes nobody counts has no length rather than one without an end', async () => {
    const none = chunk('fmt ', concat([u16le(0x55, 2), u32le(8000), u32le(0), u16le(0, 0)]));
    const { facts } = await read(wave(none, chunk('data', SOUND)), 'a.wav');
    expect(facts.durationSeconds).toBeNull();
  });

  test('texts of AIFF say what no tag says', async () => {
    const common = concat([
      new Uint8Array([0, 2]),
      u32(16_000),
      new Uint8Array([0, 16]),
      // 8000 as a number of 80 bits.
      new Uint8Array([0x40, 0x0b, 0xfa, 0, 0, 0, 0, 0, 0, 0]),
    ]);
    const body = concat([
      ascii('AIFF'),
      chunk('COMM', common, 'iff'),
      chunk('NAME', ascii('Cold Iron'), 'iff'),
      chunk('AUTH', ascii('Dag Holme'), 'iff'),
      chunk('SSND', concat([new Uint8Array(8), SOUND]), 'iff'),
    ]);
    const { facts, file } = await read(concat([ascii('FORM'), u32(body.length), body]), 'a.aiff');
    expect(file.fields).toMatchObject({ title: 'Cold Iron', artist: ['Dag Holme'] });
    expect([facts.durationSeconds, facts.streams[0]?.codec]).toEqual([2, 'PCM']);
  });
});

describe.skipIf(!hasFfmpeg)('MP4 in fragments', () => {
  test.each([
    ['with an index', ['-movflags', 'dash+frag_keyframe+empty_moov', '-frag_duration', '500000']],
    ['by its last fragment', ['-movflags', 'frag_keyframe+empty_moov', '-frag_duration', '500000']],
  ])('lasts as long as its parts together (%s)', async (_, flags) => {
    const folder = mkdtempSync(join(tmpdir(), 'lectorum-'));
    try {
      const path = join(folder, 'out.m4a');
      const made = spawnSync('ffmpeg', [
        ...['-v', 'error', '-f', 'lavfi', '-i', 'sine=frequency=440:duration=4', '-c:a', 'aac'],
        ...flags,
        path,
      ]);
      expect(made.status).toBe(0);
      const { facts } = await read(new Uint8Array(readFileSync(path)), 'out.m4a');
      expect(Math.abs((facts.durationSeconds ?? 0) - 4)).toBeLessThan(0.1);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

test('what an MP3 of the demo says of its sound is less than its file', async () => {
  const path = 'Music/The Tidewrack Choir/Fathom Songs/1 - Sounding Line.mp3';
  const bytes = await demoMemory(path);
  const { facts } = await readMedia(bytes, path);
  expect(facts.soundBytes).toBeLessThan(bytes.size);
});

describe('bits of a sample', () => {
  test.each([
    ['../tests/fixtures/containers/tone.wav', 16],
    ['../tests/fixtures/containers/tone.aiff', 16],
    ['../tests/fixtures/containers/lossless.m4a', 16],
    ['../tests/fixtures/containers/flac.mp4', 16],
    ['Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac', 16],
    // What has lost something has none, and DSD says one bit by its name.
    ['../tests/fixtures/containers/mono.m4a', undefined],
    ['../tests/fixtures/containers/tone.opus', undefined],
    ['../tests/fixtures/containers/tone.dsf', undefined],
  ])('of %s are %s', async (path, bits) => {
    const { facts } = await readMedia(await demoMemory(path), path);
    expect(facts.streams.find(({ type }) => type === 'sound')?.bits).toBe(bits);
  });
});
