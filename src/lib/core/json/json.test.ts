import fc from 'fast-check';
import { expect, test } from 'vitest';
import { parseJson } from '.';

test('any JSON is parsed as it stands', () => {
  fc.assert(
    fc.property(fc.jsonValue({ maxDepth: 20 }), (value) => {
      const text = JSON.stringify(value);
      expect(parseJson(text)).toEqual(JSON.parse(text));
    }),
  );
});

test('brackets in texts are none, and neither are quotation marks that are told of', () => {
  const text = JSON.stringify({ a: `${'['.repeat(500)}"\\"{{{`, b: ['\\', '"['] });
  expect(parseJson(text)).toEqual(JSON.parse(text));
});

test('lists in lists without end are refused before they are parsed', () => {
  const before = process.cpuUsage().user;
  expect(() => parseJson('['.repeat(40_000_000))).toThrow('without end');
  expect(() => parseJson(`${'{"a":'.repeat(65)}1${'}'.repeat(65)}`)).toThrow('without end');
  expect((process.cpuUsage().user - before) / 1000).toBeLessThan(2000);
});
