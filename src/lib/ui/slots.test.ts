import fc from 'fast-check';
import { expect, test } from 'vitest';
import { slotsOf } from './slots';

const rows = Array.from({ length: 100 }, (_, index) => ({ key: `row ${index}` }));
const shown = (slots: ReturnType<typeof slotsOf<{ key: string }>>) =>
  slots.map(({ index }) => index).sort((a, b) => a - b);

test('every row of a window has a slot of its own, wherever it begins', () => {
  fc.assert(
    fc.property(fc.nat(90), fc.integer({ min: 1, max: 10 }), (start, count) => {
      const slots = slotsOf(rows, start, count, []);
      expect(shown(slots)).toEqual(Array.from({ length: count }, (_, index) => start + index));
      expect(new Set(slots.map(({ slot }) => slot)).size).toBe(count);
      for (const { index, row } of slots) expect(row).toBe(rows[index]);
    }),
    { seed: 2, numRuns: 300 },
  );
});

test('a row that stays on screen keeps its slot, as it was', () => {
  const before = slotsOf(rows, 10, 8, []);
  const after = slotsOf(rows, 13, 8, before);
  const stays = before.filter(({ index }) => index >= 13);
  expect(stays).toHaveLength(5);
  for (const slot of stays) expect(after).toContain(slot);
});

test('a row that became another is drawn anew, and the end of the list leaves slots empty', () => {
  const before = slotsOf(rows, 0, 4, []);
  const changed = rows.with(2, { key: 'other' });
  const after = slotsOf(changed, 0, 4, before);
  expect(after.map((slot, index) => slot === before[index])).toEqual([true, true, false, true]);
  expect(shown(slotsOf(rows.slice(0, 2), 0, 2, before))).toEqual([0, 1]);
});
