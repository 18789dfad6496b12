import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { renderTune } from '../../server/sound/tunes.js';
import { fingerprintText, parseFingerprint, soundDistance } from './fingerprint';
import { SpeechMeter } from './speech-meter';

const print = fc.uint32Array({ minLength: 60, maxLength: 120 }).map((values) => Uint32Array.from(values));

describe('a fingerprint', () => {
  test('comes back from its text as it was', () => {
    fc.assert(
      fc.property(print, (values) => {
        expect(parseFingerprint(fingerprintText(values))).toEqual(values);
      }),
      { seed: 2 },
    );
  });

  test('lies at no distance from itself, even where it starts later', () => {
    fc.assert(
      fc.property(print, fc.nat(15), (values, late) => {
        expect(soundDistance(values, values)).toBe(0);
        expect(soundDistance(values, values.subarray(late))).toBe(0);
      }),
      { seed: 3 },
    );
  });

  test('lies far from another, and too short ones tell nothing', () => {
    const [a, b] = [1, 99].map((seed) =>
      Uint32Array.from({ length: 200 }, (_, at) => Math.imul(at + seed, 2_654_435_761) >>> 0),
    );
    expect(soundDistance(a as Uint32Array, b as Uint32Array)).toBeGreaterThan(0.3);
    expect(soundDistance(new Uint32Array(10), new Uint32Array(10))).toBeNull();
  });

  test.each(['nonsense!', 'AAAA'])('%j is none', (text) =>
    expect(() => parseFingerprint(text)).toThrow(RangeError),
  );
});

describe('speech or music', () => {
  const RATE = 22_050;
  const heard = (samples: Int16Array) => {
    const meter = new SpeechMeter(RATE);
    meter.feed(samples);
    return meter.share();
  };
  const noise = (at: number) => Math.sin(at * 12.9898 + Math.sin(at * 78.233) * 43_758.5453);

  test('a tune over a drone is music', () => {
    const wav = renderTune(5, 30);
    expect(heard(new Int16Array(wav.buffer, wav.byteOffset + 44, (wav.length - 44) >> 1))).toBeLessThan(0.2);
  });

  test('syllables of voice and hiss with pauses are speech', () => {
    const samples = Int16Array.from({ length: RATE * 30 }, (_, at) => {
      const time = at / RATE;
      const place = (time * 3.7) % 1;
      const syllable = place < 0.35 ? Math.sin(at * 0.04) : place < 0.5 ? 0.5 * noise(at) : 0;
      return 12_000 * syllable * (time % 3 < 2.4 ? 1 : 0);
    });
    expect(heard(samples)).toBeGreaterThan(0.55);
  });

  test('too little, or silence, says nothing', () => {
    expect(heard(new Int16Array(RATE))).toBeNull();
    expect(heard(new Int16Array(RATE * 30))).toBeNull();
  });
});
