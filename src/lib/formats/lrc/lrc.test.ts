import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyTimed } from '../../../../tests/helpers/any-content';
import { readLrc, writeLrc } from '.';

describe('timed lyrics as text', () => {
  test('lines come in their order, those that are sung again as often, what is said of the whole left out', () => {
    expect(
      readLrc('[ar:Orla Venn]\r\n[00:04.50]Haul away\n[00:12][00:01:20] Heave  \n\nno time\n[01:02.003]\n'),
    ).toEqual([
      { startSeconds: 1.2, text: 'Heave' },
      { startSeconds: 4.5, text: 'Haul away' },
      { startSeconds: 12, text: 'Heave' },
      { startSeconds: 62.003, text: '' },
    ]);
  });

  test('an offset moves lines and words, never before the start', () => {
    expect(readLrc('[offset:+500]\n[00:00.20]a\n[00:02.00]<00:02.00>b <00:03.00>c')).toEqual([
      { startSeconds: 0, text: 'a' },
      {
        startSeconds: 1.5,
        text: 'b c',
        words: [
          { startSeconds: 1.5, text: 'b ' },
          { startSeconds: 2.5, text: 'c' },
        ],
      },
    ]);
  });

  test('words have times of their own, also where a line is sung again, and an end is no word', () => {
    const words = (from: number) => [
      { startSeconds: from + 0.1, text: 'Low ' },
      { startSeconds: from + 0.6, text: 'tide' },
    ];
    expect(readLrc('[00:10.00][00:20.00] <00:10.10> Low <00:10.60> tide <00:11.00>')).toEqual([
      { startSeconds: 10, text: 'Low tide', words: words(10) },
      { startSeconds: 20, text: 'Low tide', words: words(20) },
    ]);
  });

  test('a line that asks to be sung without end is refused by name', () => {
    const endless = `${'[00:01]'.repeat(500)}la\n`.repeat(801);
    expect(() => readLrc(endless)).toThrow('more than 400,000 timed words');
  });

  test('a text without times is none', () => {
    expect(readLrc('[ti:Sounding Line]\nHaul away\n12:00 noon')).toBeNull();
  });

  test('what is written is read as it was', () => {
    fc.assert(
      fc.property(anyTimed, (lines) => {
        expect(readLrc(writeLrc(lines)) ?? []).toEqual(lines);
      }),
      { seed: 11, numRuns: 500 },
    );
  });
});
