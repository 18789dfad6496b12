import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { EMPTY_FIELDS, type ArrivalId, type Fields, type ItemId } from '../items';
import type { Asked } from './asked';
import { completionsFor } from './complete';
import { PLAIN, testOf } from './meets';
import { QUERY_NAMES } from './names';
import { nearestQuerySteps, wordsAsText } from './nearest';
import { parseQuery } from './parse';
import { nowhere, type QueryWorld } from './world';

const asked = (fields: Partial<Fields>, rest: Partial<Asked> = {}): Asked => ({
  id: 'wick' as ItemId,
  arrival: 'first' as ArrivalId,
  modified: Date.parse('2026-02-10T12:00'),
  fields: { ...EMPTY_FIELDS, ...fields },
  path: 'Music/Orla Venn/Nine Lamps/04 Wick.flac',
  kind: 'song',
  format: 'flac',
  size: 3_500_000,
  soundBytes: undefined,
  durationSeconds: 200.4,
  streams: [{ type: 'sound', codec: 'FLAC', channels: 2, sampleRate: 44_100, width: null, height: null }],
  pictures: 1,
  chapters: 0,
  timedLines: 0,
  isEdited: false,
  ...rest,
});

const WICK = asked({
  title: 'Wick',
  artist: ['Orla Venn', 'Dag Holme'],
  albumArtist: 'Orla Venn',
  genre: ['Sea  Shanty', 'folk'],
  date: '1989-05',
  track: 4,
  compilation: true,
  trackGain: -7.32,
});

function meets(text: string, one: Asked = WICK): boolean {
  const parsed = parseQuery(text);
  if (parsed.type === 'wrong') throw new Error(JSON.stringify(parsed.problem));
  return testOf(parsed.query, PLAIN)(one);
}

test('a codec is found by its name and by its code', () => {
  const stream = {
    type: 'sound',
    codec: 'mp4a',
    channels: 2,
    sampleRate: 44_100,
    width: null,
    height: null,
  } as const;
  const book = asked({}, { streams: [stream] });
  for (const text of ['codec is aac', 'codec is mp4a', 'not codec is alac'])
    expect(meets(text, book)).toBe(true);
  expect(meets('codec is mp4', book)).toBe(false);
});

describe('a query', () => {
  test.each([
    '',
    'wick',
    'orla 04',
    'genre is folk',
    'genre is sea shanty and year under 1990 and any picture',
    'GENRE IS FOLK',
    'album artist is orla venn',
    'artist has holme',
    'title begins wi',
    'title ends ck',
    'file name is 04 wick.flac',
    'folder ends lamps',
    'no album',
    'no edits',
    'any compilation',
    'not genre is rock',
    'genre is not rock',
    'genre is rock or title is wick',
    '(genre is rock or title is wick) and track is 4',
    'year from 1980 to 1989',
    'date is 1989',
    'date over 1989-04',
    'date under 1989-06',
    'date from 1989 to 1990',
    'length is 3:20',
    'length over 3 min',
    'length under 0:03:21',
    'size from 3 MB to 3.6MB',
    'sample rate is 44.1 kHz',
    'channels under 3',
    'track gain under -5 dB',
    'track gain from -8 to -7',
    'kind is song',
    'format is flac and ending is flac',
    'codec is flac',
    '"orla venn"',
  ])('%s is met', (text) => expect(meets(text)).toBe(true));

  test.each([
    'genre is shanty',
    'genre is folk and year over 1990',
    'any album',
    'no picture',
    'title is not wick',
    'date is 1989-05-04',
    'date under 1989',
    'date over 1989',
    'length over 4 min',
    '"venn orla"',
  ])('%s is not', (text) => expect(meets(text)).toBe(false));

  test('words of the language are plain words where nothing is compared', () => {
    const low = asked({ title: 'Over and under the year' });
    expect(meets('over under year', low)).toBe(true);
    expect(meets('"and" title', low)).toBe(false);
  });

  test.each([
    ['genre ', 'needsCompare', 6, 'genre'],
    ['genre beg', 'needsCompare', 9, 'genre'],
    ['genre is', 'needsText', 8, 'is'],
    ['genre is and', 'needsText', 9, 'is'],
    ['year under', 'needsAmount', 10, 'year'],
    ['year under soon', 'noAmount', 11, 'soon'],
    ['year from 1980', 'needsTo', 14, 'year'],
    ['wick and', 'needsTerm', 8, ''],
    ['or wick', 'needsTerm', 0, 'or'],
    ['no thing', 'needsName', 3, 'no'],
    ['(wick', 'unclosedBracket', 0, '('],
    ['wick)', 'unopenedBracket', 4, ')'],
    ['wick "low', 'unclosedQuote', 5, '"low'],
    ['year has 9', 'wrongCompare', 5, 'year'],
    ['album over 5', 'wrongCompare', 6, 'album'],
    ['album under the sea', 'wrongCompare', 6, 'album'],
  ])('%s is wrong, with its place', (text, code, column, what) => {
    const parsed = parseQuery(text);
    const problem = parsed.type === 'wrong' ? parsed.problem : null;
    expect([problem?.code, problem?.column]).toEqual([code, column]);
    if (code !== 'noAmount' && code !== 'wrongCompare') expect(problem?.text).toBe(what);
  });

  test.each([
    ['genre is folk and year under', 'genre is folk'],
    ['genre is folk or not (year under soon) and x', 'genre is folk'],
    ['wick and title is "lo', 'wick'],
    ['genre i', ''],
    ['genre is folk and ye', 'genre is folk'],
    ['wick and', 'wick'],
  ])('of %s, what stands before the problem is gone by', (text, before) => {
    const [parsed, wanted] = [parseQuery(text), parseQuery(before)];
    expect(parsed.type === 'wrong' && parsed.before).toEqual(wanted.type === 'query' && wanted.query);
  });

  test('a name that nothing follows is a word', () => {
    expect(meets('over under year', asked({ title: 'Over and under the year' }))).toBe(true);
    expect(meets('title', asked({ title: 'Entitled' }))).toBe(true);
    expect(meets('genre is folk and wi ')).toBe(true);
    expect(meets('wick and no album and 04')).toBe(true);
  });

  test('whatever is typed, it is read or its problem lies in it', () => {
    const word = fc.constantFrom(
      ...[
        'and',
        'or',
        'not',
        'no',
        'any',
        'is',
        'has',
        'under',
        'from',
        'to',
        '(',
        ')',
        '"',
        '12',
        'x',
        '3:20',
      ],
      ...QUERY_NAMES.map(({ name }) => name),
    );
    fc.assert(
      fc.property(fc.array(word, { maxLength: 12 }), (words) => {
        const text = words.join(' ');
        const parsed = parseQuery(text);
        if (parsed.type === 'wrong') {
          expect(parsed.problem.column).toBeGreaterThanOrEqual(0);
          expect(parsed.problem.column).toBeLessThanOrEqual(text.length);
        } else expect(typeof testOf(parsed.query, PLAIN)(WICK)).toBe('boolean');
      }),
      { seed: 3, numRuns: 3000 },
    );
  });

  test('not is the opposite, and both sides of or are as good', () => {
    const term = fc.constantFrom('genre is folk', 'no album', 'year over 1990', 'wick', 'length under 10 s');
    fc.assert(
      fc.property(term, term, (one, other) => {
        expect(meets(`not ${one}`)).toBe(!meets(one));
        expect(meets(`${one} or ${other}`)).toBe(meets(`${other} or ${one}`));
        expect(meets(`not (${one} or ${other})`)).toBe(meets(`not ${one} and not ${other}`));
      }),
      { seed: 4, numRuns: 200 },
    );
  });
});

describe('what may come next', () => {
  const values = () => [['folk', 12] as const, ['Sound and Fury', 2] as const];
  const next = (before: string) => completionsFor(before, values).map(({ text }) => text);

  test('a name while one is begun, by any of its words', () => {
    expect(next('gen')).toContain('genre ');
    expect(next('genre is folk and art')).toEqual([
      'album artist ',
      'artist ',
      'sort artist ',
      'sort album artist ',
    ]);
    expect(next('')).toEqual([]);
  });

  test('how it is compared behind a name, as its type allows', () => {
    expect(next('genre ')).toEqual(['is ', 'is not ', 'has ', 'begins ', 'ends ']);
    expect(next('wick and year ')).toEqual(['is ', 'under ', 'over ', 'since ', 'until ', 'from ']);
    expect(next('no genre ')).toEqual([]);
  });

  test('values of the library, quoted where they hold words of the language', () => {
    expect(completionsFor('genre is fo', values)).toEqual([
      { type: 'value', text: 'folk ', from: 9, means: '12' },
      { type: 'value', text: '"Sound and Fury" ', from: 9, means: '2' },
    ]);
    expect(next('genre is folk and g')).not.toContain('folk ');
  });

  test('whatever is chosen can be gone on with', () => {
    for (const text of next('gen')) expect(parseQuery(`${text}is x`).type).toBe('query');
    for (const text of next('genre is ')) expect(parseQuery(`genre is ${text}`).type).toBe('query');
  });
});

describe('other ways of saying it', () => {
  const open = asked(
    { title: 'Neap' },
    { kind: null, pictures: 0, format: 'mp3', size: 4_800_000, streams: [] },
  );
  test.each([
    ['genre is empty', 'no genre'],
    ['genre is not empty', 'any genre'],
    ['missing genre', 'no genre'],
    ['without picture', 'no picture'],
    ['has lyrics', 'any lyrics'],
    ['year > 1990', 'year over 1990'],
    ['year>1990', 'year over 1990'],
    ['year >= 1990', 'year since 1990'],
    ['year <= 1990', 'year until 1990'],
    ['year 1987', 'year is 1987'],
    ['1980s', 'year from 1980 to 1989'],
    ['year between 1980 and 1990', 'year from 1980 to 1990'],
    ['artist contains venn', 'artist has venn'],
    ['artist: venn', 'artist has venn'],
    ['album artist:venn', 'album artist has venn'],
    ['title starts with the', 'title begins the'],
    ['title ends with ick', 'title ends ick'],
    ['longer than 5 minutes', 'length over 5 min'],
    ['shorter than 2 hours', 'length under 2 h'],
    ['bitrate under 192', 'bitrate under 192'],
    ['lossless', 'any lossless or "lossless"'],
    ['compilation', 'any compilation or "compilation"'],
    ['no compilation', 'no compilation'],
    ['kind is open', 'no kind'],
    ['genre is folk and without picture or year 1989', 'genre is folk and no picture or year is 1989'],
    // What something is compared with is left alone.
    ['title has without picture', 'title has without picture'],
    ['"genre is empty"', '"genre is empty"'],
  ])('%s', (said, means) => {
    const read = (text: string) => {
      const parsed = parseQuery(text);
      if (parsed.type === 'wrong') throw new Error(`${text}: ${JSON.stringify(parsed.problem)}`);
      return parsed.query;
    };
    const plain = (text: string) =>
      JSON.stringify(read(text), (key, value: unknown) => (key === 'column' ? 0 : value));
    expect(plain(said)).toBe(plain(means));
    for (const one of [WICK, open]) expect(meets(said, one)).toBe(meets(means, one));
  });

  test('accents do not matter, on either side', () => {
    const bridge = asked({ title: 'Brücke', artist: ['Édith Ærø'] });
    for (const text of ['Brucke', 'brücke', 'title is Brucke', 'artist has edith', 'Bru\u0308cke'])
      expect([text, meets(text, bridge)]).toEqual([text, true]);
    expect(meets('Brocke', bridge)).toBe(false);
  });

  test('how fast it is, and whether anything of its sound is lost', () => {
    expect(meets('lossless')).toBe(true);
    expect(meets('lossless', open)).toBe(false);
    expect(meets('bitrate over 150', open)).toBe(true);
    expect(meets('bitrate over 200', open)).toBe(false);
  });
});

test('of a query that finds nothing it is told what was searched as text, and what is near and finds something', () => {
  const items = [WICK, asked({ title: 'Neap', artist: ['Dag Holme'] })];
  const near = (text: string) => {
    const steps = nearestQuerySteps(text, items, PLAIN);
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
    }
  };
  const words = (text: string) => {
    const parsed = parseQuery(text);
    return parsed.type === 'query' ? wordsAsText(parsed.query) : null;
  };
  expect(words('artist venn and genre is folk')).toEqual(['artist', 'venn']);
  expect(near('artist venn')).toBe('artist has venn');
  expect(near('neap herring')).toBe('neap');
  expect(near('herring')).toBeNull();
});

describe('what items do not say themselves', () => {
  const world: QueryWorld = {
    ...nowhere(Date.parse('2026-03-31T10:00')),
    lists: ['Long table', 'Lamp-lighting and tea'],
    players: ['Attic', 'Galley Two'],
    addedAt: () => Date.parse('2026-02-28T09:00'),
    listsOf: () => ['Long table'],
    playersOf: () => ['Attic'],
    playsOn: () => ['Galley Two'],
    playsOf: () => ({ count: 2, at: Date.parse('2026-03-01T20:00') }),
  };
  const asks = (text: string): boolean | string => {
    const parsed = parseQuery(text, world);
    return parsed.type === 'wrong' ? parsed.problem.code : testOf(parsed.query, PLAIN, world)(WICK);
  };

  test.each([
    ['added in the last 2 months', true],
    ['added in the last month', true],
    ['added in the last 4 weeks', false],
    ['added since 2026-03', false],
    ['added since 2026-02', true],
    ['added is 2026-02-28', true],
    ['changed since 2026-02-11', false],
    ['changed before 2026-02-11', true],
    ['date since 1989', true],
    ['in list long table', true],
    ['not in list "Long table"', false],
    ['in list "Lamp-lighting and tea"', false],
    ['in no list', false],
    ['in any list', true],
    ['list has table', true],
    ['on Attic', true],
    ['never on Attic', false],
    ['never on "galley two" and genre is folk', true],
    ['on galley two or wick', true],
    ['plays on galley two', true],
    ['not plays on "Galley Two"', false],
    ['plays on Attic and played', false],
    ['played', true],
    ['never played', false],
    ['never played or wick', true],
    ['not played', false],
    ['played under 3 times', true],
    ['played less than 2 times', false],
    ['played is 2', true],
    ['played 2 times and genre is folk', true],
    ['played since 2 times', true],
    ['last played in the last month', true],
    ['last played before 2026-03', false],
    ['in list Gone', 'noSuchList'],
    ['list is Gone or wick', 'noSuchList'],
  ] as const)('%s', (text, expected) => expect(asks(text)).toBe(expected));

  test('words that name no list and no player are looked for', () => {
    expect(parseQuery('on deck', world)).toEqual(parseQuery('"on" "deck"', world));
    expect(asks('in the deep')).toBe(false);
  });

  test('where no lists are known, every name is taken', () => {
    expect(parseQuery('in list Gone').type).toBe('query');
  });
});
