import { spawnSync } from 'node:child_process';
import { beforeAll, describe, expect, test } from 'vitest';
import { dffFile, dsfFile, modulate } from '../../scripts/demo/dsd.mjs';
import { concat, memorySource } from '../../src/lib/core/bytes';
import { DsdDecimator, decimationOf } from '../../src/lib/core/sound';
import { FormatError } from '../../src/lib/formats';
import { dsdSamples, readDsd } from '../../src/lib/formats/dsd';
import { readMedia } from '../../src/lib/formats/reading';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';

const RATE = 2_822_400;
const decibels = (value: number) => 20 * Math.log10(value);

/** What one bit leaves behind, at the rate of the bits: its filter, taken from the outside. */
function impulse(by: number): number[] {
  const quiet = new Uint8Array(4096).fill(0x69);
  const run = (bytes: Uint8Array) => {
    const one = new DsdDecimator(RATE, by, false);
    return [...one.feed(bytes), ...one.end()];
  };
  const silent = run(quiet);
  const heard: number[] = [];
  for (let bit = 0; bit < by; bit++) {
    const at = 2048 * 8 + bit;
    const pushed = quiet.slice();
    pushed[at >> 3]! ^= 128 >> (at & 7);
    const way = pushed[at >> 3]! & (128 >> (at & 7)) ? 2 : -2;
    run(pushed).forEach((sample, index) => {
      const tap = index * by - bit + by;
      heard[tap] = (sample - silent[index]!) / way;
    });
  }
  return Array.from(heard, (tap) => tap ?? 0);
}

/** How loud a filter lets a frequency through. */
function gainAt(taps: readonly number[], hertz: number): number {
  let [real, imaginary] = [0, 0];
  taps.forEach((tap, at) => {
    if (tap === 0) return;
    real += tap * Math.cos((2 * Math.PI * hertz * at) / RATE);
    imaginary += tap * Math.sin((2 * Math.PI * hertz * at) / RATE);
  });
  return Math.hypot(real, imaginary);
}

describe('making samples of one bit into others', () => {
  const taps = impulse(16);

  test('lets through what is heard within a tenth of a decibel', () => {
    for (let hertz = 20; hertz <= 20_000; hertz += 370)
      expect(Math.abs(decibels(gainAt(taps, hertz)))).toBeLessThan(0.1);
  });

  test('holds down what would fold back by more than 100 decibels', () => {
    for (let hertz = 88_200; hertz <= RATE / 2; hertz += 1733)
      expect(decibels(gainAt(taps, hertz) + 1e-12)).toBeLessThan(-100);
  });

  test('knows the rates of DSD, and no others', () => {
    expect(decimationOf(RATE)).toEqual({ by: 16, rate: 176_400 });
    expect(decimationOf(RATE * 4)).toEqual({ by: 64, rate: 176_400 });
    expect(decimationOf(3_072_000)).toEqual({ by: 16, rate: 192_000 });
    for (const other of [0, 44_100, 2_822_401, 1_000_000]) expect(decimationOf(other)).toBeNull();
  });
});

describe.each([
  ['dsf', dsfFile],
  ['dff', dffFile],
] as const)('a tone in a %s', (ending, build) => {
  const SECONDS = 0.25;
  const tone = (hertz: number, loud: number) => (seconds: number) =>
    loud * Math.sin(2 * Math.PI * hertz * seconds);
  const [left, right] = [tone(1000, 0.4), tone(3000, 0.2)];
  let bytes: Uint8Array;
  beforeAll(() => {
    bytes = build([modulate(left, SECONDS), modulate(right, SECONDS)]);
  });

  /** All samples of each channel. */
  async function decode(file: Uint8Array): Promise<Float32Array[]> {
    const source = memorySource(file);
    const parts: (readonly Float32Array[])[] = [];
    for await (const some of dsdSamples(source, (await readDsd(source)).sound)) parts.push(some);
    return [0, 1].map((channel) => Float32Array.from(parts.flatMap((part) => [...(part[channel] ?? [])])));
  }

  /** How loud a tone stands in samples, by what is left when it is taken out beside it. */
  function within(samples: Float32Array, hertz: number, rate: number): { loud: number; left: number } {
    // Away from both ends, whole waves of it.
    const some = samples.subarray(rate / 50, rate / 50 + rate / 10);
    let [real, imaginary] = [0, 0];
    const turn = (at: number) => (2 * Math.PI * hertz * (at + rate / 50)) / rate;
    some.forEach((value, at) => {
      real += (2 / some.length) * value * Math.sin(turn(at));
      imaginary += (2 / some.length) * value * Math.cos(turn(at));
    });
    const rest = some.reduce(
      (sum, value, at) => sum + (value - real * Math.sin(turn(at)) - imaginary * Math.cos(turn(at))) ** 2,
      0,
    );
    return { loud: real, left: Math.sqrt(rest / some.length) };
  }

  test('comes out as loud and as long as it went in, and in its place', async () => {
    const [one, other] = await decode(bytes);
    expect(one).toHaveLength(SECONDS * 176_400);
    expect(within(one!, 1000, 176_400).loud).toBeCloseTo(0.4, 3);
    expect(within(other!, 3000, 176_400).loud).toBeCloseTo(0.2, 3);
    // What stands beside it is noise that nobody hears.
    expect(decibels(within(one!, 1000, 176_400).left)).toBeLessThan(-55);
  });

  test.runIf(hasFfmpeg)('as a reader that is not ours has it', async () => {
    const ours = (await decode(bytes))[0]!;
    const theirs = withFile(bytes, ending, (path) => {
      const ask = ['-v', 'error', '-i', path, '-ar', '176400', '-f', 'f32le', '-'];
      const { stdout } = spawnSync('ffmpeg', ask, { maxBuffer: 1e8 });
      const all = new Float32Array(stdout.buffer.slice(stdout.byteOffset, stdout.byteOffset + stdout.length));
      return all.filter((_, at) => at % 2 === 0);
    });
    expect(Math.abs(theirs.length - ours.length)).toBeLessThan(64);
    expect(within(theirs, 1000, 176_400).loud).toBeCloseTo(within(ours, 1000, 176_400).loud, 1);
  });

  test('says what it is', async () => {
    const { format, facts } = await readMedia(memorySource(bytes), `a.${ending}`);
    expect(format).toBe(ending);
    expect(facts).toMatchObject({
      durationSeconds: SECONDS,
      streams: [{ type: 'sound', codec: 'DSD', channels: 2, sampleRate: RATE }],
    });
  });

  test('cut short, or packed, it is refused with its reason', async () => {
    await expect(readMedia(memorySource(bytes.slice(0, -9000)), `a.${ending}`)).rejects.toMatchObject({
      code: 'cutShort',
    });
    const packed = bytes.slice();
    if (ending === 'dsf') packed[28 + 16] = 1;
    else packed.set(new TextEncoder().encode('DST '), findText(packed, 'CMPR') + 12);
    await expect(readDsd(memorySource(packed))).rejects.toMatchObject({ code: 'notThisFormat' });
    const endless = concat([bytes.slice(0, 12), new Uint8Array(200)]);
    await expect(readDsd(memorySource(endless))).rejects.toBeInstanceOf(FormatError);
  });
});

const findText = (bytes: Uint8Array, text: string): number =>
  bytes.findIndex((_, at) => [...text].every((letter, index) => bytes[at + index] === letter.charCodeAt(0)));
