import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { deltaOf, withDelta, type Delta } from './delta';

const copyOf = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
/** As it is read: JSON knows no zero below zero. */
const json = fc.jsonValue().map(copyOf);
/** Two values that have something in common, as neighbours have. */
const names = fc.constantFrom('a', 'b', 'toString', '__proto__', 'constructor', '0');
const alike = fc.letrec<{ value: unknown }>((tie) => ({
  value: fc.oneof(
    { maxDepth: 3 },
    fc.constantFrom('x', 'y', 1, 2, true, null),
    fc.array(tie('value'), { maxLength: 3 }),
    fc
      .array(fc.tuple(names, tie('value')), { maxLength: 4 })
      .map((entries) =>
        JSON.parse(`{${entries.map(([name, one]) => `"${name}":${JSON.stringify(one)}`).join()}}`),
      ),
  ),
})).value;

/** As it is kept and read again. */
const kept = (value: unknown, before: unknown) => copyOf(deltaOf(value, before));

describe('how a value differs from the one before it', () => {
  test.each([
    ['any values', json],
    ['values much alike', alike],
  ])('is all that it takes to have it again: %s', (_, values) => {
    fc.assert(
      fc.property(values, values, (value, before) => {
        const own = copyOf(before);
        const again = withDelta(own, kept(value, before));
        expect(JSON.stringify(sorted(again))).toBe(JSON.stringify(sorted(value)));
        expect(own).toEqual(before);
      }),
      { seed: 3, numRuns: 2000 },
    );
  });

  test('is nothing for an equal one', () => {
    fc.assert(
      fc.property(json, (value) => {
        // A name that everything inherits cannot be told as changed.
        fc.pre(!JSON.stringify(value).includes('__proto__'));
        expect(deltaOf(copyOf(value), value)).toBeNull();
      }),
      { seed: 3, numRuns: 500 },
    );
  });

  test.each<[unknown, unknown, Delta]>([
    [
      { a: 1, b: [1, 2], c: 'x' },
      { a: 1, b: [1, 3], c: 'y' },
      { b: { 1: 2 }, c: 'x' },
    ],
    [{ a: 1 }, { a: 1, b: 2 }, { b: null }],
    [{ a: 1, b: null }, { a: 1 }, { b: [null] }],
    [[1, 2], [1], [[1, 2]]],
    [{ a: 2 }, { a: 1 }, [{ a: 2 }]],
    [{ a: { b: 1, c: 2 } }, { a: { b: 1, c: 3 } }, { a: { c: 2 } }],
    [{ a: 1, n: NaN }, { a: 1, n: 1 }, { n: [NaN] }],
  ])('tells what changed and no more: %j after %j', (value, before, delta) => {
    expect(deltaOf(value, before)).toEqual(delta);
  });

  test('what did not change is the same object in both', () => {
    const before = { same: { a: [1] }, other: 1 };
    const after = withDelta(before, kept({ same: { a: [1] }, other: 2 }, before)) as typeof before;
    expect(after.same).toBe(before.same);
    expect(after.other).toBe(2);
  });
});

/** With the names of its objects in one order, whichever way it came to them. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  return Object.entries(value)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, one]) => [name, sorted(one)]);
}
