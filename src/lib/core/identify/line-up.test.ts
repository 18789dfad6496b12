import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { CASE_KINDS, makeCase, scoreAll } from '../../../../tests/bench/line-up-cases';
import { assign } from './assign';
import { NO_DECISIONS, lineUp, outOfOrder, straightLineUp } from './line-up';
import { offerLineUps } from './candidates';
import { NO_NUMBERS, plainPoints, sumPoints, weighPair, type LineFile } from './evidence';
import type { ReferenceEntry } from './reference';

const entry = (number: number, lengthSeconds: number, title = `Entry ${number}`): ReferenceEntry => ({
  id: `e${number}`,
  number,
  disc: null,
  title,
  artist: null,
  lengthSeconds,
  date: null,
  description: null,
  hasLyrics: false,
});
const file = (
  id: string,
  number: number | null,
  lengthSeconds: number | null,
  title: string | null = null,
): LineFile => ({
  id,
  stem: title ?? id,
  title,
  number,
  disc: null,
  lengthSeconds,
  heard: null,
});
const pairsOf = (lined: { pairs: readonly { file: string; entry: string }[] }) =>
  Object.fromEntries(lined.pairs.map((pair) => [pair.file, pair.entry]));

const ENTRIES = [entry(1, 100), entry(2, 150), entry(3, 210), entry(4, 260)];

describe('made cases with known truth', () => {
  test('sure pairs are right and most pairs are found', () => {
    const all = scoreAll(300).get('all');
    expect(all && all.sureRight / all.sure).toBeGreaterThanOrEqual(0.995);
    expect(all && all.found / all.pairs).toBeGreaterThanOrEqual(0.9);
    // Saying nothing for sure would be no art.
    expect(all && all.sure / all.pairs).toBeGreaterThan(0.6);
  });

  test.each(CASE_KINDS)('%s: an entry takes one file, a file one entry, and both orders stay', (kind) => {
    for (let seed = 1; seed < 20; seed++) {
      const { files, entries } = makeCase(kind, seed);
      const lined = lineUp(files, entries);
      expect(new Set(lined.pairs.map((pair) => pair.file)).size).toBe(lined.pairs.length);
      expect(new Set(lined.pairs.map((pair) => pair.entry)).size).toBe(lined.pairs.length);
      expect(lined.openFiles.length + lined.pairs.length).toBe(files.length);
      expect(lined.openEntries.length + lined.pairs.length).toBe(entries.length);
      expect(lined.openEntries).toEqual(
        entries.map(({ id }) => id).filter((id) => lined.openEntries.includes(id)),
      );
    }
  });
});

test('files counted from 00 are the entries, none slides to the end', () => {
  const files = [file('00', 0, 100), file('01', 1, 150), file('02', 2, 210), file('03', 3, 260)];
  const lined = lineUp(files, ENTRIES);
  expect(pairsOf(lined)).toEqual({ '00': 'e1', '01': 'e2', '02': 'e3', '03': 'e4' });
  expect(lined.pairs.every(({ crosses, certainty }) => !crosses && certainty === 'sure')).toBe(true);
});

describe('a changed order', () => {
  const files = [file('a', 1, 100), file('b', 2, 210), file('c', 3, 150), file('d', 4, 260)];

  test('is offered both ways, and the crossing pairs say so', () => {
    const { best, straight } = offerLineUps(files, ENTRIES);
    expect(pairsOf(best)).toEqual({ a: 'e1', b: 'e3', c: 'e2', d: 'e4' });
    expect(best.pairs.filter(({ crosses }) => crosses).map((pair) => pair.file)).toEqual(['b', 'c']);
    expect(outOfOrder(best, files, ENTRIES)).toBe(1);
    expect(straight?.pairs.some(({ crosses }) => crosses)).toBe(false);
  });

  test('is not offered twice where nothing crosses', () => {
    expect(offerLineUps([file('a', 1, 100), file('b', 2, 150)], ENTRIES).straight).toBeNull();
  });
});

describe('what the curator decides', () => {
  const files = [file('a', 1, 100), file('b', 2, 150), file('c', 3, 210)];

  test('a held pair stands against all evidence, and the rest moves round it', () => {
    const lined = lineUp(files, ENTRIES, { ...NO_DECISIONS, locked: { a: 'e2' } });
    expect(pairsOf(lined)).toMatchObject({ a: 'e2', c: 'e3' });
    expect(lined.pairs.find((pair) => pair.file === 'a')).toMatchObject({ locked: true, certainty: 'sure' });
    expect(pairsOf(lined).b).not.toBe('e2');
  });

  test('a file kept open stays open, one left out is in no list', () => {
    const lined = lineUp(files, ENTRIES, { locked: { a: null }, leftOut: ['b'] });
    expect(lined.openFiles).toEqual(['a']);
    expect(pairsOf(lined)).toEqual({ c: 'e3' });
  });

  test('a hold on an entry that is not there any more is forgotten', () => {
    expect(pairsOf(lineUp(files, ENTRIES, { ...NO_DECISIONS, locked: { a: 'gone' } })).a).toBe('e1');
  });
});

describe('what cannot be told', () => {
  test('files alike in everything are no sure pairs', () => {
    const alike = [entry(1, 200), entry(2, 200)];
    const lined = lineUp([file('a', null, 200), file('b', null, 200)], alike);
    expect(lined.pairs.every(({ certainty }) => certainty === 'guess')).toBe(true);
  });

  test('a file far from every entry stays open', () =>
    expect(lineUp([file('x', null, 31)], ENTRIES).openFiles).toEqual(['x']));

  test('nothing against nothing is nothing', () => {
    expect(lineUp([], ENTRIES)).toMatchObject({ pairs: [], openFiles: [] });
    expect(lineUp([file('a', 1, 100)], [])).toMatchObject({ pairs: [], openFiles: ['a'] });
  });

  test('a sound that was heard decides over lengths and numbers', () => {
    const heard = { ...file('a', 1, 100), heard: { e3: 0.04 } };
    expect(pairsOf(lineUp([heard], ENTRIES))).toEqual({ a: 'e3' });
  });
});

test('points without their evidence are the sum of the evidence', () => {
  for (const kind of CASE_KINDS) {
    const { files, entries } = makeCase(kind, 3);
    for (const one of files)
      for (const other of entries)
        expect(plainPoints(one, other)).toBe(sumPoints(weighPair(one, other, NO_NUMBERS)));
  }
});

describe('the assignment', () => {
  const matrix = fc.integer({ min: 1, max: 5 }).chain((rows) =>
    fc.integer({ min: 1, max: 5 }).chain((columns) =>
      fc.record({
        rows: fc.constant(rows),
        columns: fc.constant(columns),
        values: fc.array(fc.integer({ min: -20, max: 60 }), {
          minLength: rows * columns,
          maxLength: rows * columns,
        }),
      }),
    ),
  );

  /** Every pairing tried, each row free to stay open. */
  function best(values: readonly number[], rows: number, columns: number, without = -1): number {
    const walk = (row: number, used: number): number => {
      if (row === rows) return 0;
      let most = walk(row + 1, used);
      for (let column = 0; column < columns; column++) {
        const value = values[row * columns + column] as number;
        if (used & (1 << column) || row * columns + column === without) continue;
        most = Math.max(most, value + walk(row + 1, used | (1 << column)));
      }
      return most;
    };
    return walk(0, 0);
  }

  test('is the best of all, and a margin is what the best without the pair loses', () => {
    fc.assert(
      fc.property(matrix, ({ rows, columns, values }) => {
        const { columnOf, margins } = assign(Float64Array.from(values), rows, columns);
        const total = [...columnOf].reduce(
          (sum, column, row) => sum + (column < 0 ? 0 : (values[row * columns + column] as number)),
          0,
        );
        const most = best(values, rows, columns);
        expect(total).toBe(most);
        for (const [row, column] of [...columnOf].entries())
          if (column >= 0)
            expect(margins[row]).toBeCloseTo(most - best(values, rows, columns, row * columns + column), 6);
      }),
      { seed: 7, numRuns: 300 },
    );
  });

  test('the straight line-up never crosses, whatever comes', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 60, max: 400 }), { maxLength: 12 }), (lengths) => {
        const files = lengths.map((length, index) => file(`f${index}`, null, length));
        const lined = straightLineUp(files, ENTRIES);
        expect(lined.pairs.some(({ crosses }) => crosses)).toBe(false);
      }),
      { seed: 9 },
    );
  });
});
