import fc from 'fast-check';
import { expect, test } from 'vitest';
import { drawnPieces, unseenBetween } from './unseen';

test.each<[string, string, readonly string[]]>([
  ['Salt Ledger ', 'Salt Ledger', ['blanks']],
  ['Salt\u00a0Ledger', 'Salt Ledger', ['blanks']],
  ['salt Ledger', 'Salt Ledger', ['case']],
  ['Cafe\u0301', 'Café', ['form']],
  ['S\u0430lt', 'Salt', ['alike']],
  ['It\u2019s', "It's", ['alike']],
  ['salt  ledger', 'Salt Ledger', ['blanks', 'case']],
  ['Salt', 'Salt', []],
  ['Salty', 'Salt', []],
])('%j and %j differ by %j', (one, other, how) => {
  expect(unseenBetween(one, other)).toEqual(how);
  expect(unseenBetween(other, one)).toEqual(how);
});

test('what is not seen is drawn, and the rest stays as it is', () => {
  const marked = (text: string, wanted: string) =>
    drawnPieces(text, wanted).flatMap((piece) => (piece.marked ? piece.text : []));
  expect(marked('Salt  Ledger ', 'Salt Ledger')).toEqual(['␣', '␣']);
  expect(marked('S\u0430lt', 'Salt')).toEqual(['\u0430']);
  expect(marked('salt', 'Salt')).toEqual(['s']);
  expect(marked('Salt Ledger', 'Salt Ledger')).toEqual([]);
  expect(marked('Соль', 'Соль и')).toEqual([]);
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 20 }), (text) => {
      const drawn = drawnPieces(text, text)
        .map((piece) => piece.text)
        .join('');
      expect([...drawn].length).toBe([...text.normalize('NFC')].length);
    }),
    { seed: 2, numRuns: 500 },
  );
});
