import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Resampler } from './resampler';
import { WholeSamples } from './whole-samples';

const tone = (hertz: number, rate: number, count: number): Float32Array =>
  Float32Array.from({ length: count }, (_, at) => 0.5 * Math.sin((2 * Math.PI * hertz * at) / rate));

function resampled(samples: Float32Array, from: number, to: number, pieces = 1000): Float32Array {
  const resampler = new Resampler(from, to);
  const parts: Float32Array[] = [];
  for (let at = 0; at < samples.length; at += pieces)
    parts.push(resampler.feed(samples.subarray(at, at + pieces)));
  parts.push(resampler.end());
  return Float32Array.from(parts.flatMap((part) => [...part]));
}

/** Decibels of a sound, its beginning and end left out. */
function level(samples: Float32Array): number {
  const inner = samples.subarray(2000, samples.length - 2000);
  const power = inner.reduce((sum, value) => sum + value * value, 0) / inner.length;
  return 10 * Math.log10(power + 1e-30);
}

const RATES = [
  [96_000, 48_000],
  [48_000, 44_100],
  [88_200, 44_100],
  [192_000, 44_100],
  [44_100, 48_000],
  [44_100, 22_050],
] as const;

describe.each(RATES)('from %i to %i Hz', (from, to) => {
  test('what is heard comes through as loud as it was, and in its place', () => {
    for (const hertz of [50, 1000, Math.min(20_000, to * 0.45)]) {
      const before = tone(hertz, from, from / 2);
      const after = resampled(before, from, to);
      expect(Math.abs(level(after) - level(before))).toBeLessThan(0.1);
      const wanted = tone(hertz, to, after.length);
      const apart = after.map((value, at) => value - wanted[at]!);
      expect(level(apart)).toBeLessThan(level(after) - 60);
    }
  });

  test('what its new rate cannot say is at least 100 dB down', () => {
    const hertz = to - Math.min(20_000, to * 0.4535) + 1;
    if (hertz >= from / 2) return;
    expect(level(resampled(tone(hertz, from, from / 2), from, to))).toBeLessThan(
      level(tone(hertz, from, from)) - 100,
    );
  });

  test('it lasts as long as it did, in whatever pieces it comes', () => {
    const before = tone(440, from, 30_011);
    const whole = resampled(before, from, to, 30_011);
    expect(whole.length).toBe(Math.ceil((30_011 * to) / from));
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 40_000 }), (pieces) => {
        expect(resampled(before, from, to, Math.max(50, pieces))).toEqual(whole);
      }),
      { seed: 27, numRuns: 5 },
    );
  });
});

describe('whole samples', () => {
  test('what fits comes back as it was', () => {
    const values = [0, 1, -1, 32_767, -32_768, 12_345];
    const whole = new WholeSamples(16, false);
    expect([...whole.of(Float32Array.from(values, (value) => value / 32_768))]).toEqual(values);
  });

  test('a tone below the last bit is still there, as noise and itself', () => {
    const quiet = tone(1000, 44_100, 44_100).map((value) => value / 32_768);
    const [plain, dithered] = [false, true].map((dithers) => new WholeSamples(16, dithers).of(quiet));
    const heard = (samples: Int32Array) =>
      samples.reduce((sum, value, at) => sum + value * Math.sin((2 * Math.PI * 1000 * at) / 44_100), 0) /
      22_050;
    expect(heard(plain!)).toBe(0);
    expect(heard(dithered!)).toBeCloseTo(0.5, 1);
  });

  test('what is too loud stays as loud as can be', () => {
    const whole = new WholeSamples(16, false);
    expect([...whole.of(Float32Array.of(1.5, -1.5, 0))]).toEqual([32_767, -32_768, 0]);
  });
});
