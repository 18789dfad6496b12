import fc from 'fast-check';
import { expect, test } from 'vitest';
import { QUERY_NAMES, type QueryName } from './names';
import { parseQuery } from './parse';
import { partsOf, textOfParts, type QueryPart } from './parts';

const parsed = (text: string) => {
  const own = parseQuery(text);
  if (own.type === 'wrong') throw new Error(`${text}: ${own.problem.code}`);
  return own.query;
};
const roundTrip = (text: string) => {
  const parts = partsOf(parsed(text));
  return parts && textOfParts(parts);
};

test.each([
  ['genre is folk and added since 2026-03', 'genre is folk and added since 2026-03'],
  ['genre is not folk', 'not genre is folk'],
  ['longer than 5 minutes', 'length over 5 min'],
  ['size under 300 kB or size over 2 GB', 'size under 300 kB or size over 2 GB'],
  ['never played', 'played is 0'],
  ['added in the last 2 months and genre is folk', 'added in the last 2 months and genre is folk'],
  ['changed in the last week', 'changed in the last week'],
  ['year between 1980 and 1990', 'year from 1980 to 1990'],
  ['wick "low water"', '"wick" and "low water"'],
  ['no picture', 'no picture'],
  ['title is "this and that"', 'title is "this and that"'],
  ['(genre is folk or genre is sea) and no picture', null],
  ['', ''],
])('%s as parts is %s', (text, expected) => expect(roundTrip(text)).toBe(expected));

const value: Readonly<Record<QueryName['type'], fc.Arbitrary<string>>> = {
  text: fc.constantFrom('folk', 'this and that', 'not yet', 'AC/DC (live)', 'Ö'),
  number: fc.constantFrom('3', '1990'),
  date: fc.constantFrom('2019', '2019-05-04'),
  bytes: fc.constantFrom('300 kB', '17', '2 GB'),
  seconds: fc.constantFrom('90 s', '2 h', '5 min'),
  presence: fc.constant(''),
};
const part: fc.Arbitrary<QueryPart> = fc.oneof(
  fc.record({
    isNot: fc.boolean(),
    name: fc.constant(null),
    compare: fc.constant('has' as const),
    text: fc.constantFrom('wick', 'low water'),
  }),
  fc.constantFrom(...QUERY_NAMES).chain((name) => {
    const compares =
      name.type === 'presence'
        ? (['filled'] as const)
        : name.type === 'text'
          ? (['is', 'has', 'begins', 'ends', 'filled'] as const)
          : (['is', 'under', 'over', 'since', 'until', 'from', 'filled'] as const);
    return fc
      .record({ isNot: fc.boolean(), name: fc.constant(name), compare: fc.constantFrom(...compares) })
      .chain((own): fc.Arbitrary<QueryPart> => {
        const text = own.compare === 'filled' ? fc.constant('') : value[name.type];
        const both = own.compare === 'from' ? text.map((one) => `${one} to ${one}`) : text;
        return both.map((said) => ({ ...own, text: said }));
      });
  }),
);

test('what is put together from parts is read as those parts', () => {
  fc.assert(
    fc.property(
      fc.array(part, { minLength: 2, maxLength: 4 }),
      fc.constantFrom('and', 'or'),
      (parts, link) => {
        expect(partsOf(parsed(textOfParts({ link, parts })))).toEqual({ link, parts });
      },
    ),
    { numRuns: 1000 },
  );
});
