import { describe, expect, test } from 'vitest';
import { SoundMeter, faultOf, pictureFaultOf, type HeardSound } from './check';

const heard: HeardSound = { seconds: 200, peak: 0.9, cutOff: 0, fingerprint: null };
const print = (seed: number) =>
  Uint32Array.from({ length: 100 }, (_, at) => Math.imul(at + seed, 2_654_435_761) >>> 0);

describe('what is wrong with a twin', () => {
  test('nothing, where it lasts as long and is as loud', () => {
    expect(faultOf(heard, { ...heard, seconds: 200.04, peak: 0.95 })).toBe(null);
  });

  test.each([
    ['length', { seconds: 199.9 }],
    ['silent', { peak: 0.001 }],
    ['cutOff', { cutOff: 500 }],
  ] as const)('%s', (fault, other) => {
    expect(faultOf(heard, { ...heard, ...other })).toBe(fault);
  });

  test('another sound is told by its fingerprint; a silent original asks nothing of its twin', () => {
    const original = { ...heard, fingerprint: print(1) };
    expect(faultOf(original, original)).toBe(null);
    expect(faultOf(original, { ...heard, fingerprint: print(7777) })).toBe('otherSound');
    const silence = { ...heard, peak: 0 };
    expect(faultOf(silence, silence)).toBe(null);
  });
});

test('a sound is heard in whatever pieces it comes', () => {
  const whole = Float32Array.from({ length: 3000 }, (_, at) =>
    at > 100 && at < 110 ? 1 : Math.sin(at / 20) * 0.5,
  );
  const meter = (pieces: number) => {
    const own = new SoundMeter(1000);
    for (let at = 0; at < whole.length; at += pieces)
      own.feed([whole.subarray(at, at + pieces), whole.subarray(at, at + pieces)]);
    return own.heard(new Uint32Array(0));
  };
  expect(meter(3000)).toEqual({ seconds: 3, peak: 1, cutOff: 2, fingerprint: null });
  expect(meter(2)).toEqual(meter(3000));
});

describe('pictures of a twin', () => {
  const grey = (value: number) => Array.from({ length: 48 }, () => value);

  test('may lose a little, and no more', () => {
    expect(pictureFaultOf([grey(90), grey(10)], [grey(96), grey(4)], 0.04)).toBe(null);
    expect(pictureFaultOf([grey(90), grey(200)], [grey(90), grey(0)], 0)).toBe('otherPicture');
  });

  test('last as long; what one of them does not lead to is not held against the other', () => {
    expect(pictureFaultOf([null, grey(90)], [grey(0), null], 0)).toBe(null);
    expect(pictureFaultOf([grey(90)], [grey(90)], -0.1)).toBe('length');
  });
});
