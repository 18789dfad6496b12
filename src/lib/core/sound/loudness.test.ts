import { describe, expect, test } from 'vitest';
import { LoudnessMeter, gainFor, integratedLoudness } from './loudness';

const sine = (hertz: number, decibels: number, seconds: number, rate: number) =>
  Float32Array.from(
    { length: seconds * rate },
    (_, at) => 10 ** (decibels / 20) * Math.sin((2 * Math.PI * hertz * at) / rate),
  );

function blocksOf(channels: readonly Float32Array[], rate: number, atOnce = 5000) {
  const meter = new LoudnessMeter(rate, channels.length);
  for (let at = 0; at < channels[0]!.length; at += atOnce)
    meter.feed(channels.map((own) => own.subarray(at, at + atOnce)));
  return meter.blocks();
}

describe('loudness', () => {
  // EBU Tech 3341, cases 1 and 2: a tone in both channels is as loud as it says.
  test.each([
    [-23, 44_100],
    [-33, 48_000],
    [-23, 96_000],
    [-23, 8000],
  ])('of a tone of 1 kHz at %i dB and %i Hz is that', (decibels, rate) => {
    const tone = sine(1000, decibels, 20, rate);
    expect(integratedLoudness([blocksOf([tone, tone], rate)])).toBeCloseTo(decibels, 0.7);
    // In one channel it is half as much.
    expect(integratedLoudness([blocksOf([tone], rate)])).toBeCloseTo(decibels - 3.01, 0.7);
  });

  test('counts no quiet moments: neither silence nor what lies far below the rest (cases 3 and 4)', () => {
    const rate = 48_000;
    const [loud, quiet, silent] = [
      sine(1000, -23, 60, rate),
      sine(1000, -36, 10, rate),
      sine(1000, -72, 10, rate),
    ];
    const whole = Float32Array.from([...silent, ...quiet, ...loud, ...quiet, ...silent]);
    expect(integratedLoudness([blocksOf([whole, whole], rate)])).toBeCloseTo(-23, 1);
  });

  test('is the same however its samples come, and of a sound shorter than a block, too', () => {
    const tone = sine(997, -20, 2, 44_100);
    const [one, other] = [blocksOf([tone, tone], 44_100, 100), blocksOf([tone, tone], 44_100, 1e6)];
    expect(integratedLoudness([one])).toBeCloseTo(integratedLoudness([other])!, 9);
    expect(integratedLoudness([blocksOf([tone.subarray(0, 9000)], 44_100)])).toBeCloseTo(-23, 0);
    expect(integratedLoudness([blocksOf([new Float32Array(0)], 44_100)])).toBeNull();
    expect(integratedLoudness([blocksOf([new Float32Array(90_000)], 44_100)])).toBeNull();
  });

  test('of several sounds lies between theirs, and longer ones count more', () => {
    const [loud, soft] = [sine(1000, -14, 9, 48_000), sine(1000, -20, 3, 48_000)];
    const [a, b] = [blocksOf([loud, loud], 48_000), blocksOf([soft, soft], 48_000)];
    const both = integratedLoudness([a, b])!;
    expect(both).toBeLessThan(-14.3);
    expect(both).toBeGreaterThan(-15.5);
  });

  test('low channels do not count, those behind count more', () => {
    const [tone, none] = [sine(1000, -23, 5, 48_000), new Float32Array(240_000)];
    const at = (channel: number) =>
      integratedLoudness([
        blocksOf(
          Array.from({ length: 6 }, (_, index) => (index === channel ? tone : none)),
          48_000,
        ),
      ]);
    expect(at(3)).toBeNull();
    expect(at(4)! - at(0)!).toBeCloseTo(1.49, 1);
  });

  test('is made up for by what a player adds', () => {
    expect(gainFor(-18)).toBe(0);
    expect(gainFor(-9.123)).toBe(-8.88);
    expect(gainFor(-30)).toBe(12);
  });
});
