import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { RULEBOOKS } from '$lib/rulebooks';
import {
  PATTERN_FIELDS,
  parsePattern,
  requirePattern,
  writePattern,
  type PatternField,
  type PatternValues,
} from './pattern';
import { readPattern } from './read-pattern';
import { lengthIn, pathKey, safeName, safeValue, shorten } from './safe-name';

const writer = { numberWidth: 2, safeValue: (text: string) => text };
const write = (pattern: string, values: PatternValues) =>
  writePattern(requirePattern(pattern), values, writer).parts.join('/');

const ALBUM = ':albumArtist|artist/:album{ (:year)}/{:disc-}:track :title';

test('writes the path of the example', () => {
  const values = {
    albumArtist: 'The Tidewrack Choir',
    album: 'Low Water',
    year: 2021,
    disc: 1,
    track: 4,
    title: 'Kelp Road',
  };
  expect(write(ALBUM, values)).toBe('The Tidewrack Choir/Low Water (2021)/1-04 Kelp Road');
});

test('leaves out optional parts whole, and falls back to the next name', () => {
  expect(write(ALBUM, { artist: 'Orla Venn', album: 'Wick', track: 4, title: 'Oil' })).toBe(
    'Orla Venn/Wick/04 Oil',
  );
});

test('names what had no value outside of optional parts', () => {
  expect(writePattern(requirePattern(ALBUM), { album: 'x' }, writer).missing).toEqual([
    'albumArtist',
    'track',
    'title',
  ]);
});

test('a total widens its number', () => {
  expect(write(':track', { track: 7, tracks: 120 })).toBe('007');
});

describe('problems have a code and a column', () => {
  test.each([
    ['a/:nope', 'unknownField', 2],
    [':artist {:album', 'unclosed', 8],
    [':artist }', 'unopened', 8],
    ['{:artist{:album}}', 'nested', 8],
    ['{:artist/:album}', 'folderInOptional', 8],
    ['abc\\', 'nothingEscaped', 3],
    ['', 'noField', 0],
  ])('%s', (text, code, column) => {
    expect(parsePattern(text)).toMatchObject({ type: 'wrong', problem: { code, column } });
  });
});

test('an escaped letter is itself', () => {
  expect(write('\\{:title\\}\\:', { title: 'x' })).toBe('{x}:');
});

describe('reading', () => {
  test('gives the fields back', () => {
    expect(
      readPattern(requirePattern(ALBUM), 'The Choir/Low Water (2021)/1-04 Kelp Road')[0]?.values,
    ).toEqual({
      albumArtist: 'The Choir',
      album: 'Low Water',
      year: 2021,
      disc: 1,
      track: 4,
      title: 'Kelp Road',
    });
  });

  test('takes runs of blanks and underscores as one blank', () => {
    expect(readPattern(requirePattern(':artist - :title'), 'Orla_Venn__-_Harbour__Bell')[0]?.values).toEqual({
      artist: 'Orla Venn',
      title: 'Harbour Bell',
    });
  });

  test('offers both ways where a path can be read in two', () => {
    const readings = readPattern(requirePattern(':artist - :title'), 'A - B - C');
    expect(readings.map(({ values }) => values)).toEqual(
      expect.arrayContaining([
        { artist: 'A', title: 'B - C' },
        { artist: 'A - B', title: 'C' },
      ]),
    );
  });

  test('finds nothing where it does not fit', () => {
    expect(readPattern(requirePattern(':track :title'), 'no number')).toEqual([]);
  });

  test('gives a hostile name up in time', () => {
    const pattern = requirePattern(':artist :album :title :genre :composer');
    expect(readPattern(pattern, 'a '.repeat(2000)).length).toBeLessThanOrEqual(8);
  });
});

/** Values without any separator that a pattern may hold. */
const word = fc.stringMatching(/^[A-Za-zÀ-ÿ][A-Za-zÀ-ÿ']{0,10}$/).map((text) => text.normalize('NFC'));
const year = fc.integer({ min: 1900, max: 2099 });
const small = fc.integer({ min: 1, max: 99 });
const numbers: Partial<Record<PatternField, fc.Arbitrary<number>>> = {
  year,
  track: small,
  tracks: small,
  disc: small,
  discs: small,
  season: small,
  episode: small,
  part: small,
};
const separators = fc.constantFrom(' - ', '/', '. ', ' ~ ', ' [', '] ');

test('what a pattern writes it reads back, over made patterns and values', () => {
  const made = fc
    .uniqueArray(fc.constantFrom(...PATTERN_FIELDS), { minLength: 1, maxLength: 5 })
    .chain((fields) =>
      fc.record({
        fields: fc.constant(fields),
        between: fc.array(separators, { minLength: fields.length, maxLength: fields.length }),
        values: fc.record(Object.fromEntries(fields.map((field) => [field, numbers[field] ?? word]))),
      }),
    );
  fc.assert(
    fc.property(made, ({ fields, between, values }) => {
      const text = fields.map((field, index) => `${index === 0 ? '' : between[index]}:${field}`).join('');
      const path = write(text, values);
      expect(readPattern(requirePattern(text), path).map((reading) => reading.values)).toContainEqual(values);
      expect(readPattern(requirePattern(text), path)[0]?.values).toEqual(values);
    }),
    { seed: 11, numRuns: 500 },
  );
});

describe('safe names', () => {
  const rules = RULEBOOKS.attic.disk;

  test.each([
    ['Who Goes There?', 'Who Goes There'],
    ['Bell: A Watch', 'Bell - A Watch'],
    ['Left / Right', 'Left - Right'],
    ['a\nb\tc', 'a b c'],
    ['e\u0301', 'é'],
    ['\u202egnp.evil', 'gnp.evil'],
    // What is dropped between a letter and its mark brings these together.
    ['e\u202e\u0301', 'é'],
  ])('%j becomes %j', (value, safe) => expect(safeValue(value, rules)).toBe(safe));

  test.each([
    ['CON', 'CON_'],
    ['con.x', 'con_.x'],
    ['dots...', 'dots'],
    ['..', '_'],
    ['', '_'],
    ['Console', 'Console'],
    ['.hidden', '_hidden'],
    ['...and so on', '_and so on'],
    [' . x', '_x'],
    ['nul .txt', 'nul _.txt'],
    ['CONIN$', 'CONIN$_'],
    ['conout$.x', 'conout$_.x'],
    ['\u200b\u2060', '_'],
    ['\u3164', '_'],
  ])('the name %j becomes %j', (name, safe) => expect(safeName(name, rules)).toBe(safe));

  test('making safe a second time changes nothing', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        const once = safeName(safeValue(text, rules), rules);
        expect(safeName(safeValue(once, rules), rules)).toBe(once);
      }),
      { seed: 3, numRuns: 500 },
    );
  });

  test('a letter with more marks than there is room for gives a name all the same', () => {
    expect(shorten(`e${'\u0301'.repeat(300)} and more`, 40, rules)).toBe('_');
    expect(shorten('... .', 3, rules)).toBe('_');
  });

  test('half a letter pair is no letter', () => {
    expect(safeValue('a\ud800b', rules)).toBe('a\ufffdb');
  });

  test.each([
    ['ſ', 's'],
    ['ς', 'σ'],
    ['ΑΣ', 'ας'],
    ['µ', 'μ'],
    ['Straße', 'STRASSE'],
    ['ẞ', 'ss'],
    ['ﬁ', 'FI'],
    ['K', 'k'],
    ['É', 'e\u0301'],
    ['ᾼ', 'ᾳ'],
  ])('%j and %j are one name to a disk that is blind to case', (a, b) => {
    expect(pathKey(a, rules)).toBe(pathKey(b, rules));
    expect(pathKey(a, { ...rules, caseSensitive: true })).not.toBe(
      pathKey(b, { ...rules, caseSensitive: true }),
    );
  });

  test.each([
    ['ı', 'i'],
    ['ä', 'a'],
    ['o', '0'],
  ])('%j and %j are two', (a, b) => expect(pathKey(a, rules)).not.toBe(pathKey(b, rules)));

  test('shortening keeps whole letters within the limit', () => {
    const family = '👩‍👩‍👧';
    expect(shorten(family.repeat(3), 40, rules)).toBe(family.repeat(2));
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), fc.integer({ min: 1, max: 40 }), (text, limit) => {
        const short = shorten(text, limit, rules);
        expect(lengthIn(short, 'bytes')).toBeLessThanOrEqual(limit);
        expect(short).not.toBe('');
      }),
      { seed: 5 },
    );
  });
});
