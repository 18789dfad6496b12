import { expect, test } from 'vitest';
import { halfStars, ratingOfHalves } from './rating';

test('stars and points agree, halves included', () => {
  for (let halves = 0; halves <= 10; halves++) expect(halfStars(ratingOfHalves(halves))).toBe(halves);
  expect([null, 0, 1, 14, 15, 96, 100].map(halfStars)).toEqual([0, 0, 1, 1, 2, 10, 10]);
});
