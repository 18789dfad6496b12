import fc from 'fast-check';
import { expect, test } from 'vitest';
import { fitCrop, middleSquare, scaledSize, squared } from './crop';

const size = fc.record({
  width: fc.integer({ min: 1, max: 6000 }),
  height: fc.integer({ min: 1, max: 6000 }),
});
const part = fc.record({
  left: fc.double({ min: -9000, max: 9000, noNaN: true }),
  top: fc.double({ min: -9000, max: 9000, noNaN: true }),
  width: fc.double({ min: 0, max: 9000, noNaN: true }),
  height: fc.double({ min: 0, max: 9000, noNaN: true }),
});

test('a part lies within its picture, whatever was drawn', () => {
  fc.assert(
    fc.property(part, size, (drawn, picture) => {
      for (const crop of [fitCrop(drawn, picture), squared(drawn, picture), middleSquare(picture)]) {
        expect(crop.left).toBeGreaterThanOrEqual(0);
        expect(crop.top).toBeGreaterThanOrEqual(0);
        expect(crop.width).toBeGreaterThanOrEqual(1);
        expect(crop.height).toBeGreaterThanOrEqual(1);
        expect(crop.left + crop.width).toBeLessThanOrEqual(picture.width);
        expect(crop.top + crop.height).toBeLessThanOrEqual(picture.height);
        expect(fitCrop(crop, picture)).toEqual(crop);
      }
      const square = squared(fitCrop(drawn, picture), picture);
      expect(square.width).toBe(square.height);
    }),
    { seed: 1, numRuns: 500 },
  );
});

test('the middle of a wide picture, and nothing larger than it is', () => {
  expect(middleSquare({ width: 800, height: 520 })).toEqual({ left: 140, top: 0, width: 520, height: 520 });
  expect(squared({ left: 700, top: 100, width: 100, height: 300 }, { width: 800, height: 520 })).toEqual({
    left: 500,
    top: 100,
    width: 300,
    height: 300,
  });
  expect(scaledSize({ width: 800, height: 520 }, 500)).toEqual({ width: 500, height: 325 });
  expect(scaledSize({ width: 80, height: 52 }, 500)).toEqual({ width: 80, height: 52 });
  expect(scaledSize({ width: 80, height: 52 }, null)).toEqual({ width: 80, height: 52 });
});
