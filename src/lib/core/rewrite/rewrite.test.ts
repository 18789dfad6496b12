import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeAlbum, makeItem } from '../../../../tests/helpers/items';
import { editItem, fieldsOf, type Item } from '../items';
import { LETTER_CASES, rewriteSteps, type LetterCase, type RewriteRule, type Rewritten } from './index';

function rewriteAll(items: readonly Item[], rewrite: RewriteRule): readonly Rewritten[] {
  const steps = rewriteSteps(items, rewrite);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
const edited = (items: readonly Item[], rewrite: RewriteRule) =>
  rewriteAll(items, rewrite).map(({ item, edits }) => editItem(item, edits));
const titled = (title: string, as: LetterCase) =>
  fieldsOf(edited([makeItem('x', { title })], { type: 'case', fields: ['title'], as })[0] as Item).title;

describe('letter case', () => {
  test.each<[string, LetterCase, string]>([
    ['the whole house of the wind', 'title', 'The Whole House of the Wind'],
    ['THE WHOLE HOUSE', 'title', 'The Whole House'],
    ['what it is for', 'title', 'What It Is For'],
    ['low water: the return', 'title', 'Low Water: The Return'],
    ['wick (a watch song)', 'title', 'Wick (A Watch Song)'],
    ["rowan mccaw's reel no. 4a", 'title', "Rowan Mccaw's Reel No. 4a"],
    ['Rowan McCaw and the BBQ', 'title', 'Rowan McCaw and the BBQ'],
    ['The Night Boiler', 'sentence', 'The night boiler'],
    ['STEAM UP! COLD IRON', 'sentence', 'Steam up! Cold iron'],
    ['Éire', 'capital', 'ÉIRE'],
    ['ÉIRE Ærø', 'small', 'éire ærø'],
  ])('%s as %s', (text, as, wanted) => expect(titled(text, as)).toBe(wanted));

  test('is another letter case of the same text, and the same once more', () => {
    fc.assert(
      fc.property(
        fc.stringMatching(/^[A-Za-zÀ-ÖØ-Þà-öø-ÿ0-9 :('-]{1,30}$/),
        fc.constantFrom(...LETTER_CASES),
        (text, as) => {
          const once = titled(`${text}x`, as) ?? '';
          expect(once.trim().toLowerCase()).toBe(`${text}x`.trim().toLowerCase());
          // What is all capitals by chance is taken for shouted the second time.
          if (/[a-z]/.test(once)) expect(titled(once, as)).toBe(once);
        },
      ),
      { seed: 3, numRuns: 500 },
    );
  });
});

test('texts are replaced in every value, by whole words and letter case where that is wanted', () => {
  const items = [makeItem('x', { title: 'Folk songs, folksy', genre: ['Folk', 'sea folk'], track: 3 })];
  const by = (find: string, more: Partial<{ by: string; mindsCase: boolean; wholeWords: boolean }> = {}) => {
    const all = { find, by: 'trad', mindsCase: false, wholeWords: false, ...more };
    return fieldsOf(edited(items, { type: 'replace', fields: ['title', 'genre'], ...all })[0] as Item);
  };
  expect(by('folk')).toMatchObject({ title: 'trad songs, tradsy', genre: ['trad', 'sea trad'] });
  expect(by('folk', { wholeWords: true }).title).toBe('trad songs, folksy');
  expect(by('folk', { mindsCase: true }).genre).toEqual(['Folk', 'sea trad']);
  expect(by('s, f', { by: '$&' }).title).toBe('Folk song$&olksy');
  expect(by('.').title).toBe('Folk songs, folksy');
  // A value that nothing is left of goes.
  expect(by('Folk', { by: '', mindsCase: true }).genre).toEqual(['sea folk']);
  expect(by('').title).toBe('Folk songs, folksy');
});

test('numbers follow the order that is given, with how many there are', () => {
  const [one, two, three] = makeAlbum(3) as [Item, Item, Item];
  const numbered = edited([three, one, two], { type: 'number', field: 'track', first: 4, totals: true });
  expect(numbered.map((item) => [item.id, fieldsOf(item).track, fieldsOf(item).tracks])).toEqual([
    [three.id, 4, 6],
    [one.id, 5, 6],
    [two.id, 6, 6],
  ]);
});

test('what one says is said of all, and what would not be taken is told', () => {
  const from = makeItem('from', { album: 'Ebb', genre: ['folk', 'sea'], date: '2019-05' });
  const [first, second] = rewriteAll([makeItem('a', { album: 'Ebb' }), makeItem('b', { genre: ['x'] })], {
    type: 'copy',
    fields: ['album', 'genre', 'composer'],
    from,
  });
  expect(first?.edits).toEqual({ genre: ['folk', 'sea'] });
  expect(second?.edits).toEqual({ album: 'Ebb', genre: ['folk', 'sea'] });
  const many = rewriteAll(makeAlbum(2), { type: 'number', field: 'disc', first: 999, totals: false });
  expect(many.map(({ wrong }) => wrong)).toEqual([null, 'disc is above 999']);
});
