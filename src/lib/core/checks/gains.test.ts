import { expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import { gainsOf } from './gains';

/** Moments that are all as loud, in LUFS. */
const moments = (loudness: number, count: number) =>
  new Float64Array(count).fill(10 ** ((loudness + 0.691) / 10));

test('items are made up for alone, and with their release where all of it was heard', () => {
  const album = { album: 'Deep Lamps', artist: ['Orla Venn'] };
  const items = [
    makeItem('loud', album, { path: 'Music/Deep Lamps/1.flac' }),
    makeItem('soft', album, { path: 'Music/Deep Lamps/2.flac' }),
    makeItem('single', {}, { path: 'Music/3.flac' }),
    makeItem('silent', album, { path: 'Music/Deep Lamps/4.flac' }),
    makeItem('unheard', { ...album, album: 'Broken' }, { path: 'Music/Broken/1.flac' }),
    makeItem('heard', { ...album, album: 'Broken' }, { path: 'Music/Broken/2.flac' }),
  ];
  const heard = new Map([
    [items[0]!.id, moments(-10, 100)],
    [items[1]!.id, moments(-16, 100)],
    [items[2]!.id, moments(-18, 100)],
    [items[3]!.id, moments(-90, 100)],
    [items[5]!.id, moments(-20, 100)],
  ]);
  const gains = gainsOf(items, heard);
  const of = (index: number) => gains.get(items[index]!.id);
  expect(of(0)?.trackGain).toBe(-8);
  expect(of(1)?.trackGain).toBe(-2);
  // As loud as both together: nearer to the loud one.
  expect(of(0)?.albumGain).toBe(of(1)?.albumGain);
  expect(of(0)?.albumGain).toBeCloseTo(-5.97, 1);
  expect(of(2)).toEqual({ trackGain: 0 });
  expect([of(3), of(4)]).toEqual([undefined, undefined]);
  // Half a release says nothing of the whole.
  expect(of(5)).toEqual({ trackGain: 2 });
});
