import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import { fieldsOf, type FieldName, type Fields, type Item } from '../items';
import { fieldValueSteps, withValue, type FieldValues } from './field-values';

function valuesOf(items: readonly Item[], field: FieldName): FieldValues {
  const steps = fieldValueSteps(items, field, 2026);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
const some = (all: readonly Partial<Fields>[]) => all.map((fields, index) => makeItem(`i${index}`, fields));
const oddOf = ({ rows }: FieldValues) => rows.filter(({ odd }) => odd.length > 0);

describe('values of a field', () => {
  test('each value of a list counts, the most frequent first, and those without are told', () => {
    const { rows, without } = valuesOf(some([{ genre: ['folk', 'sea'] }, { genre: ['folk'] }, {}]), 'genre');
    expect(rows.map(({ text, count }) => [text, count])).toEqual([
      ['folk', 2],
      ['sea', 1],
    ]);
    expect(without).toBe(1);
  });

  test('spellings that differ by letter case, blanks, accents or Unicode form alone are like the usual one', () => {
    const spellings = ['Café', 'Cafe\u0301', 'cafe', 'Café  ', 'Café noir'];
    const items = some([{ genre: ['Café'] }, ...spellings.map((genre) => ({ genre: [genre] }))]);
    expect(oddOf(valuesOf(items, 'genre')).map(({ text, like }) => [text, like])).toEqual(
      ['Cafe\u0301', 'cafe', 'Café  '].map((text) => [text, 'Café']),
    );
  });

  test('of as many, the spelling without a blank too many is the usual one', () => {
    const items = some([{ artist: ['Orla  Venn'] }, { artist: ['Orla Venn'] }]);
    expect(oddOf(valuesOf(items, 'artist')).map(({ text, like }) => [text, like])).toEqual([
      ['Orla  Venn', 'Orla Venn'],
    ]);
  });

  test('letters of another alphabet that look alike are told, by themselves and beside the usual spelling', () => {
    // The first letter is Cyrillic, or Greek.
    const items = some([{ artist: ['\u041erla Venn'] }, { artist: ['Orla Venn'] }, { artist: ['\u039fda'] }]);
    expect(oddOf(valuesOf(items, 'artist')).map(({ text, odd, like }) => [text, odd, like])).toEqual([
      ['\u039fda', ['letters'], null],
      ['\u041erla Venn', ['alike', 'letters'], 'Orla Venn'],
    ]);
    expect(oddOf(valuesOf(some([{ artist: ['Море'] }, { artist: ['Θάλασσα'] }]), 'artist'))).toEqual([]);
  });

  test('a genre that is the name of who made it, and one that nobody else has, are odd', () => {
    const many = Array.from({ length: 40 }, () => ({ genre: ['folk'], artist: ['Orla Venn'] }));
    const odd = [
      { genre: ['ORLA VENN'], artist: ['Orla Venn'] },
      { genre: ['ORLA VENN'], artist: ['Orla Venn'] },
      { genre: ['dirge'], artist: ['Dag Holme'] },
    ];
    expect(
      oddOf(valuesOf(some([...many, ...odd]), 'genre')).map(({ text, odd: why, alsoIn }) => [
        text,
        why,
        alsoIn,
      ]),
    ).toEqual([
      ['ORLA VENN', ['otherField'], 'artist'],
      ['dirge', ['rare'], null],
    ]);
  });

  test('years and numbers that cannot be are out of range', () => {
    const dates = valuesOf(some([{ date: '2019' }, { date: '0019' }, { date: '2091-02' }]), 'date');
    expect(oddOf(dates).map(({ text }) => text)).toEqual(['0019', '2091-02']);
    const tracks = valuesOf(
      some([{ track: 3, tracks: 9 }, { track: 12, tracks: 9 }, { track: 99_999 }]),
      'track',
    );
    expect(oddOf(tracks).map(({ text }) => text)).toEqual(['12', '99999']);
  });

  test('values become another one where they stood, once, and others stay', () => {
    const item = makeItem('x', { genre: ['Folk', 'sea', 'folk ', 'folk'], album: 'Ebb' });
    const merged = withValue(item, 'genre', new Set(['Folk', 'folk ']), ['folk']);
    expect(fieldsOf(merged).genre).toEqual(['folk', 'sea']);
    expect(fieldsOf(withValue(item, 'genre', new Set(['sea']), null)).genre).toEqual(['Folk', 'folk']);
    expect(fieldsOf(withValue(item, 'album', new Set(['Ebb']), 'Flow')).album).toBe('Flow');
    expect(withValue(item, 'album', new Set(['Flow']), 'Ebb')).toBe(item);
  });

  test('merging leaves none of what was merged, and the counts follow', () => {
    const genre = fc.constantFrom('folk', 'Folk', 'FOLK', 'sea');
    fc.assert(
      fc.property(fc.array(fc.array(genre, { minLength: 1, maxLength: 3 }), { maxLength: 12 }), (all) => {
        const items = some(all.map((own) => ({ genre: [...new Set(own)] })));
        const from = new Set(['Folk', 'FOLK']);
        const merged = items.map((item) => withValue(item, 'genre', from, ['folk']));
        const { rows } = valuesOf(merged, 'genre');
        expect(rows.some(({ text }) => from.has(text))).toBe(false);
        const wanted = all.filter((own) => own.some((one) => one.toLowerCase() === 'folk')).length;
        expect(rows.find(({ text }) => text === 'folk')?.count ?? 0).toBe(wanted);
      }),
      { seed: 6, numRuns: 500 },
    );
  });
});
