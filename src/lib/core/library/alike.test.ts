import fc from 'fast-check';
import { expect, test } from 'vitest';
import { shareWith } from './alike';

const copyOf = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
/** As it is read: JSON knows no zero below zero. */
const json = fc.jsonValue().map(copyOf);

test('says the same as before, whatever it shares', () => {
  fc.assert(
    fc.property(json, json, (value, before) => {
      const [expected, other] = [copyOf(value), copyOf(before)];
      expect(shareWith(copyOf(value), before)).toEqual(expected);
      expect(before).toEqual(other);
    }),
    { seed: 3, numRuns: 500 },
  );
});

test('equal values become one, and so do equal parts of others', () => {
  fc.assert(
    fc.property(json, (value) => {
      expect(shareWith(copyOf(value), value)).toBe(value);
      const [part, before] = [
        { a: copyOf(value), b: 1 },
        { a: value, b: 2 },
      ];
      expect(shareWith(part, before)).not.toBe(before);
      expect(part.a).toBe(value);
    }),
    { seed: 3, numRuns: 500 },
  );
});

test('a value by the name of what all objects inherit is one like any other', () => {
  const of = (text: string): unknown => JSON.parse(text);
  const before = of('[{"__proto__":[]},{"__proto__":{"a":1}}]');
  expect(shareWith(of('[{"__proto__":[]},{"__proto__":{"a":1}}]'), before)).toBe(before);
  expect(JSON.stringify(shareWith(of('[{"__proto__":[]},{}]'), before))).toBe('[{"__proto__":[]},{}]');
  expect(JSON.stringify(shareWith(of('{"__proto__":{}}'), {}))).toBe('{"__proto__":{}}');
});

test('what has fewer or more is another one', () => {
  const before = { list: [1, 2], name: 'a' };
  expect(shareWith({ list: [1], name: 'a' }, before)).toEqual({ list: [1], name: 'a' });
  expect(shareWith({ list: [1, 2] }, before)).toEqual({ list: [1, 2] });
  expect(shareWith({ list: [1, 2], name: 'a', more: null }, before)).toEqual({ ...before, more: null });
  expect(shareWith({ 0: 'a' }, ['a'])).toEqual({ 0: 'a' });
});
