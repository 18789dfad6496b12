import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { entriesInOrder } from '../identify';
import { ownReferencesFor, releaseOfOwn, textOfEntries, type OwnReference } from './own-reference';
import { readTrackList } from './read-list';

const entries = (text: string) => readTrackList(text).entries;

describe('a track list', () => {
  test.each([
    ['1. Low Water 4:12', { number: 1, title: 'Low Water', lengthSeconds: 252 }],
    ['03 - Kelp Road (3:45)', { number: 3, title: 'Kelp Road', lengthSeconds: 225 }],
    ['Kelp Road', { title: 'Kelp Road' }],
    ['Kelp Road - 1:02:03', { title: 'Kelp Road', lengthSeconds: 3723 }],
    ['0:45 Kelp Road', { title: 'Kelp Road', lengthSeconds: 45 }],
    ['B2 Kelp Road', { number: 2, disc: 2, title: 'Kelp Road' }],
    ['S02E07 "Ballast"', { number: 7, disc: 2, title: 'Ballast' }],
    ['2x07 - Ballast', { number: 7, disc: 2, title: 'Ballast' }],
    ['7) 99 Gulls', { number: 7, title: '99 Gulls' }],
    ['1984', { title: '1984' }],
    ['Episode 4: The Gale', { number: 4, title: 'The Gale' }],
  ])('a line: %s', (line, entry) => expect(entries(line)).toEqual([entry]));

  test('heads give the disc or season of the lines after them', () => {
    expect(entries('Season 1\n1. A gale\n\n== Season 2 ==\n1. A calm')).toEqual([
      { number: 1, disc: 1, title: 'A gale' },
      { number: 1, disc: 2, title: 'A calm' },
    ]);
    expect(entries('Side A\nKelp\nSide B\nTide').map(({ disc }) => disc)).toEqual([1, 2]);
  });

  test('a table with a head row, from a page or a spreadsheet', () => {
    const text =
      'No.\tTitle\tOriginal air date\tRuntime\n1\t"Gale"\t3 May 2021\t45 min\n2\tCalm\tMay 10, 2021\t44 min';
    expect(entries(text)).toEqual([
      { number: 1, title: 'Gale', date: '2021-05-03', lengthSeconds: 2700 },
      { number: 2, title: 'Calm', date: '2021-05-10', lengthSeconds: 2640 },
    ]);
    expect(entries('title;length\n"Gale; part 1";1:00')).toEqual([
      { title: 'Gale; part 1', lengthSeconds: 60 },
    ]);
  });

  test('a table without a head row', () => {
    expect(entries('1\tGale\t3:10\n2\tCalm\t2:05')).toEqual([
      { number: 1, title: 'Gale', lengthSeconds: 190 },
      { number: 2, title: 'Calm', lengthSeconds: 125 },
    ]);
  });

  test('JSON, by the same names of columns', () => {
    const listed = readTrackList(
      '{"title":"Gales","artist":"Cato","year":2001,"tracks":[{"name":"A","time":"1:00"},"B"]}',
    );
    expect(listed).toEqual({
      title: 'Gales',
      maker: 'Cato',
      year: 2001,
      entries: [{ title: 'A', lengthSeconds: 60 }, { title: 'B' }],
    });
  });

  test('a cue sheet, also of several files', () => {
    const cue = `PERFORMER "Cato"\nTITLE "Gales"\nREM DATE 2001\nFILE "a.wav" WAVE\n  TRACK 01 AUDIO\n    TITLE "One"
    PERFORMER "Cato"\n    INDEX 01 00:00:00\n  TRACK 02 AUDIO\n    TITLE "Two"\n    PERFORMER "Ines"\n    INDEX 01 01:00:00
FILE "b.wav" WAVE\n  TRACK 03 AUDIO\n    INDEX 01 00:00:00`;
    expect(readTrackList(cue)).toEqual({
      title: 'Gales',
      maker: 'Cato',
      year: 2001,
      entries: [
        { number: 1, title: 'One', lengthSeconds: 60 },
        { number: 2, title: 'Two', artist: 'Ines' },
        { number: 3 },
      ],
    });
  });

  test('no text breaks it, and titles survive a table', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => Array.isArray(entries(text))));
    const titles = fc.array(fc.stringMatching(/^[a-z]{2}[a-z ]{0,20}[a-z]$/), { minLength: 2, maxLength: 9 });
    fc.assert(
      fc.property(titles, (all) => {
        const listed = all.map((title, index) => ({ number: index + 1, title, lengthSeconds: 61 + index }));
        expect(entries(textOfEntries(listed))).toEqual(listed);
      }),
    );
  });
});

describe('a list of one’s own as a release', () => {
  const own = (text: string, more: Partial<OwnReference> = {}): OwnReference => ({
    id: 'own',
    type: 'series',
    title: 'Gales',
    maker: null,
    year: null,
    text,
    ...more,
  });

  test('entries without numbers are counted by season', () => {
    const release = releaseOfOwn(own('Season 1\nA\nB\nSeason 2\nC'));
    expect(release.entries.map(({ disc, number: place }) => [disc, place])).toEqual([
      [1, 1],
      [1, 2],
      [2, 1],
    ]);
  });

  test('columns of other orders become orders', () => {
    const release = releaseOfOwn(own('number\ttitle\tdisc order\n1\tA\t2\n2\tB\t1\n3\tC\t'));
    expect(entriesInOrder(release, 'disc').map(({ title, number: place }) => [title, place])).toEqual([
      ['B', 1],
      ['A', 2],
    ]);
  });

  test('those that could fit come first, of the same type only', () => {
    const lists = [
      own('A', { id: 'a', title: 'Calms' }),
      own('A\nB', { id: 'b' }),
      own('A', { id: 'c', type: 'album' }),
    ];
    expect(ownReferencesFor(lists, 'series', 'gales', 2).map(({ id }) => id)).toEqual(['b', 'a']);
  });
});
