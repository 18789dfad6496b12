import fc from 'fast-check';
import { expect, test } from 'vitest';
import { collated, collationKey, compareCollated, compareTexts } from './collation';

const sign = Math.sign;
const word = fc.oneof(
  fc.string({ unit: 'grapheme-ascii', maxLength: 8 }),
  fc.stringMatching(/^[aAbB01 .-]{0,6}$/),
  fc.stringMatching(/^(the |The )?[a-cA-C]{1,3} ?0{0,3}[0-9]{0,12}$/),
  fc.constantFrom('Émigré 2', 'Åland', 'naïve', 'Ebb', 'ebb', '10', '9', '010'),
);

test('texts stand as the collator has them, by key or without', () => {
  fc.assert(
    fc.property(word, word, (a, b) => {
      expect(sign(compareCollated(collated(a), collated(b)))).toBe(sign(compareTexts(a, b)));
    }),
    { seed: 29, numRuns: 20_000 },
  );
});

test('plain texts have a key; what only the collator can place has none', () => {
  expect(collationKey('Nine Fathoms 12')).not.toBeNull();
  expect([collationKey('Émigré'), collationKey('a\tb'), collationKey('1'.repeat(300))]).toEqual([
    null,
    null,
    null,
  ]);
});
