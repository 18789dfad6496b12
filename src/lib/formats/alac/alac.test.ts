import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { AlacDecoder, AlacEncoder, FRAME_SAMPLES, readConfig, writeConfig } from '.';

/** Samples in frames, an array for each channel. */
function framesOf(channels: readonly Int32Array[]): Int32Array[][] {
  const frames: Int32Array[][] = [];
  for (let at = 0; at < channels[0]!.length; at += FRAME_SAMPLES)
    frames.push(channels.map((channel) => channel.slice(at, at + FRAME_SAMPLES)));
  return frames;
}

function roundTrip(channels: readonly Int32Array[], bits: number) {
  const encoder = new AlacEncoder(channels.length, bits, 44_100);
  const packets = framesOf(channels).map((frame) => encoder.encode(frame));
  const decoder = new AlacDecoder(readConfig(writeConfig(encoder.config, 0, 0)));
  const back = packets.map((packet) => decoder.decode(packet));
  return {
    bytes: packets.reduce((sum, { length }) => sum + length, 0),
    channels: channels.map((_, number) => Int32Array.from(back.flatMap((frame) => [...frame[number]!]))),
  };
}

/** A chord that swells, of whole numbers. */
const chord = (count: number, bits: number, detune: number): Int32Array =>
  Int32Array.from({ length: count }, (_, at) => {
    const time = at / 44_100;
    const swell = 0.3 + 0.2 * Math.sin(time * 3);
    const tones = [220, 277.2, 330].reduce(
      (sum, hertz) => sum + Math.sin(2 * Math.PI * (hertz + detune) * time),
      0,
    );
    return Math.round((tones / 3) * swell * 2 ** (bits - 1));
  });

describe('Apple Lossless', () => {
  test.each([16, 24])('a chord of %i bits comes back as it was, and takes less room', (bits) => {
    const channels = [chord(30_000, bits, 0), chord(30_000, bits, 0.5)];
    const { bytes, channels: back } = roundTrip(channels, bits);
    expect(back).toEqual(channels);
    expect(bytes).toBeLessThan(30_000 * 2 * (bits / 8) * 0.7);
  });

  test('one channel comes back, too', () => {
    const channels = [chord(9000, 16, 0)];
    expect(roundTrip(channels, 16).channels).toEqual(channels);
  });

  test('silence takes next to nothing', () => {
    const silence = [new Int32Array(FRAME_SAMPLES * 4), new Int32Array(FRAME_SAMPLES * 4)];
    const { bytes, channels } = roundTrip(silence, 16);
    expect(channels).toEqual(silence);
    expect(bytes).toBeLessThan(300);
  });

  test.each([16, 24])('whatever the samples of %i bits, they come back', (bits) => {
    const most = 2 ** (bits - 1);
    const sample = fc.oneof(
      fc.integer({ min: -most, max: most - 1 }),
      fc.constantFrom(0, 0, 0, -1, 1, -most, most - 1),
    );
    // Stretches of one value, so that runs come to lie anywhere.
    const stretch = fc
      .tuple(sample, fc.integer({ min: 1, max: 700 }))
      .map(([value, count]) => Array<number>(count).fill(value));
    const channel = fc
      .array(fc.oneof(stretch, fc.array(sample, { minLength: 1, maxLength: 300 })), {
        minLength: 1,
        maxLength: 12,
      })
      .map((parts) => parts.flat());
    fc.assert(
      fc.property(channel, channel, fc.boolean(), (left, right, isPair) => {
        const count = Math.min(left.length, right.length);
        const channels = [left, ...(isPair ? [right] : [])].map((one) =>
          Int32Array.from(one.slice(0, count)),
        );
        expect(roundTrip(channels, bits).channels).toEqual(channels);
      }),
      { seed: 27, numRuns: 300 },
    );
  });

  test('a damaged packet is an error or other samples, and never hangs', () => {
    const encoder = new AlacEncoder(2, 16, 44_100);
    const packet = encoder.encode([chord(FRAME_SAMPLES, 16, 0), chord(FRAME_SAMPLES, 16, 1)]);
    const decoder = new AlacDecoder(encoder.config);
    fc.assert(
      fc.property(fc.nat(packet.length - 1), fc.nat(255), fc.nat(packet.length), (at, value, cut) => {
        const damaged = packet.slice(0, Math.max(at + 1, cut));
        damaged[at] = value;
        try {
          for (const channel of decoder.decode(damaged))
            expect(channel.length).toBeLessThanOrEqual(FRAME_SAMPLES);
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError);
        }
      }),
      { seed: 27, numRuns: 400 },
    );
  });
});
