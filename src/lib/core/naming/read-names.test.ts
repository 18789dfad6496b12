import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { requirePattern } from './pattern';
import { NOISE_RULES, clashesOf, dropNoise, readName, type NoiseRule } from './read-names';

const ALL = new Set<NoiseRule>(NOISE_RULES);
const NONE = new Set<NoiseRule>();
const read = (pattern: string, path: string, rules: ReadonlySet<NoiseRule> = ALL) =>
  readName(requirePattern(pattern), path, rules);

describe('what a path says', () => {
  test.each([
    [':track :title', 'Music/Album/04 Kelp Road', { track: 4, title: 'Kelp Road' }],
    [':title', 'Music/Album/04 - Kelp_Road (1)', { title: 'Kelp Road' }],
    [
      ':artist - :title',
      '07. The Tidewrack Choir - Low Water (Official Video)',
      { artist: 'The Tidewrack Choir', title: 'Low Water' },
    ],
    [
      ':artist/:album{ (:year)}/:track :title',
      'x/Orla Venn/Wick (2016)/02 Bell',
      { artist: 'Orla Venn', album: 'Wick', year: 2016, track: 2, title: 'Bell' },
    ],
    [
      ':artist/:album{ (:year)}/:track :title',
      'Orla Venn/Wick/02 Bell',
      { artist: 'Orla Venn', album: 'Wick', track: 2, title: 'Bell' },
    ],
  ])('%s of %s', (pattern, path, values) => expect(read(pattern, path)).toEqual({ type: 'read', values }));

  test('one that can be read two ways is set apart, with both', () => {
    const reading = read(':artist - :title', 'A - B - C');
    expect(reading.type).toBe('ambiguous');
    expect(reading.type === 'ambiguous' && reading.readings.length).toBe(2);
  });

  test('one with too few levels, or none that fits, fails', () => {
    expect(read(':artist/:title', 'alone')).toEqual({ type: 'failed' });
    expect(read(':track :title', 'no number')).toEqual({ type: 'failed' });
  });
});

describe('noise', () => {
  test.each([
    ['underscores', 'Kelp_Road', 'Kelp Road'],
    ['leadingCounters', '07 - Kelp Road', 'Kelp Road'],
    ['leadingCounters', '[07] Kelp Road', 'Kelp Road'],
    ['bracketedNumbers', 'Kelp Road (1)', 'Kelp Road'],
    ['bracketedNumbers', 'Kelp Road [2]', 'Kelp Road'],
    ['sourceMarks', 'Kelp Road (Official Video) [320kbps]', 'Kelp Road'],
    ['sourceMarks', 'Kelp Road 1080p x264', 'Kelp Road'],
  ] as const)('%s: %s', (rule, name, clean) => {
    expect(dropNoise(name, new Set([rule]), false)).toBe(clean);
    expect(dropNoise(name, NONE, false)).toBe(name);
  });

  test('a counter that the pattern asks for stays, and so does a name that is noise throughout', () => {
    expect(dropNoise('07 - Kelp Road', ALL, true)).toBe('07 - Kelp Road');
    expect(dropNoise('(1)', ALL, false)).toBe('(1)');
  });

  test('underscores are kept where the rule is off', () =>
    expect(read(':title', 'Kelp_Road', NONE)).toEqual({ type: 'read', values: { title: 'Kelp_Road' } }));

  test('never leaves nothing, whatever the name', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 40 }), (name) => {
        expect(dropNoise(name, ALL, false)).not.toBe('');
      }),
      { seed: 5 },
    );
  });
});

test('a rule of noise that takes away what the pattern asks for is told', () => {
  const names = ['Bell (1)', 'Neap (2)', 'Ebb'];
  const clashes = (pattern: string) => [...clashesOf(requirePattern(pattern), names, ALL)];
  expect(clashes(':title (:track)')).toEqual([['bracketedNumbers', 2]]);
  expect(clashes(':title')).toEqual([]);
  expect([...clashesOf(requirePattern(':title (Official Video)'), ['Bell (Official Video)'], ALL)]).toEqual([
    ['sourceMarks', 1],
  ]);
});
