import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Chapter } from '../items';
import {
  CHAPTER_FILES,
  ChapterFileError,
  changedMark,
  chapterOddities,
  draftOf,
  lineOddity,
  markAt,
  nextToMark,
  numbered,
  readChapterFile,
  readJsonChapters,
  reworded,
  rewordedLyrics,
  secondsOf,
  shifted,
  textCounts,
  timeText,
  timedIn,
  withMark,
  withoutMark,
  readSubtitles,
  writeChapterFile,
  type DraftLine,
} from '.';

describe('clocks', () => {
  test.each([
    ['75', 75],
    ['1:15', 75],
    ['1:02:03.250', 3723.25],
    ['0:04,5', 4.5],
    ['0:75', null],
    ['', null],
    ['1:2:3:4', null],
    ['-1', null],
  ])('%j is %j seconds', (text, seconds) => expect(secondsOf(text)).toBe(seconds));

  test('a time that is shown is read as it was', () => {
    fc.assert(
      fc.property(fc.nat(400_000_000), (milliseconds) => {
        expect(secondsOf(timeText(milliseconds / 1000))).toBe(milliseconds / 1000);
      }),
      { seed: 1 },
    );
  });
});

describe('lines that are timed', () => {
  const LYRICS = 'Haul away\n\n  Low water \r\nHome';
  const draft = draftOf([], LYRICS);

  test('begin with the plain words, and get one time after the other', () => {
    expect(draft.map(({ text }) => text)).toEqual(['Haul away', 'Low water', 'Home']);
    let lines: readonly DraftLine[] = draft;
    for (const at of [1.5, 4, 9.25]) lines = markAt(lines, nextToMark(lines), at);
    expect(nextToMark(lines)).toBe(-1);
    expect(timedIn(lines)).toEqual([
      { startSeconds: 1.5, text: 'Haul away' },
      { startSeconds: 4, text: 'Low water' },
      { startSeconds: 9.25, text: 'Home' },
    ]);
  });

  test('stand among the plain words while only some have a time', () => {
    const timed = [
      { startSeconds: 2, text: 'Low water' },
      { startSeconds: 5, text: 'Spoken' },
    ];
    expect(draftOf(timed, LYRICS)).toEqual([
      { startSeconds: null, text: 'Haul away' },
      timed[0],
      timed[1],
      { startSeconds: null, text: 'Home' },
    ]);
    expect(draftOf(timed, null)).toEqual(timed);
    const again = 'Haul\nHaul\nHome';
    const first = markAt(draftOf([], again), 0, 1);
    expect(draftOf(timedIn(first), again)).toEqual(first);
    expect(rewordedLyrics(again, 'Haul', 'Pull')).toBe('Pull\nHaul\nHome');
    expect(rewordedLyrics(null, 'Haul', 'Pull')).toBeNull();
  });

  test('take their words along, and lose them with another text', () => {
    const words = [
      { startSeconds: 1, text: 'Haul ' },
      { startSeconds: 1.4, text: 'away' },
    ];
    const [line] = shifted([{ startSeconds: 1, text: 'Haul away', words }], 0.5) as [DraftLine];
    expect(line).toEqual({
      startSeconds: 1.5,
      text: 'Haul away',
      words: [
        { startSeconds: 1.5, text: 'Haul ' },
        { startSeconds: 1.9, text: 'away' },
      ],
    });
    expect(markAt([line], 0, 3)[0]?.words?.[1]?.startSeconds).toBe(3.4);
    expect(markAt([line], 0, null)[0]).toEqual({ startSeconds: null, text: 'Haul away' });
    expect(reworded(line, 'Haul')).toEqual({ startSeconds: 1.5, text: 'Haul' });
    expect(reworded(line, 'Haul away')).toBe(line);
  });

  test('moved forth and back are what they were, where none met the beginning', () => {
    const lines = fc.array(
      fc.record({
        startSeconds: fc.integer({ min: 10_000, max: 600_000 }).map((ms) => ms / 1000),
        text: fc.string(),
      }),
    );
    fc.assert(
      fc.property(lines, fc.integer({ min: -9000, max: 9000 }), (all, by) => {
        expect(shifted(shifted(all, by / 1000), -by / 1000)).toEqual(all);
      }),
      { seed: 2 },
    );
    expect(shifted([{ startSeconds: 1, text: '' }], -5)[0]?.startSeconds).toBe(0);
  });

  test('tell what is odd', () => {
    const lines = [
      { startSeconds: 4, text: 'a' },
      { startSeconds: null, text: 'b' },
      { startSeconds: 3, text: 'c' },
      { startSeconds: 80, text: 'd' },
    ];
    expect(lines.map((_, index) => lineOddity(lines, index, 60))).toEqual([null, null, 'order', 'pastEnd']);
  });

  test('letters, words and lines are counted as people do', () => {
    expect(textCounts('Øyets lys,\nwe’re á – 2')).toEqual({ letters: 21, words: 5, lines: 2 });
    expect(textCounts('')).toEqual({ letters: 0, words: 0, lines: 0 });
  });
});

const chapter = (startSeconds: number, title = 'x', endSeconds: number | null = null): Chapter => ({
  startSeconds,
  endSeconds,
  title,
  link: null,
});

describe('marks', () => {
  test('stay in the order of their starts, whatever is done to them', () => {
    const all = withMark(withMark([chapter(5, 'b')], 9, 'c'), 1, 'a');
    expect(all.map(({ title }) => title)).toEqual(['a', 'b', 'c']);
    expect(changedMark(all, 0, { startSeconds: 7 }).map(({ title }) => title)).toEqual(['b', 'a', 'c']);
    expect(changedMark([chapter(1, 'a', 3)], 0, { startSeconds: 4 })[0]?.endSeconds).toBeNull();
    expect(withoutMark(all, 1).map(({ title }) => title)).toEqual(['a', 'c']);
  });

  test('what is odd about them is told', () => {
    const all = [
      chapter(3, 'a', 5),
      chapter(10, ''),
      chapter(10, 'c', 30),
      chapter(11, 'd'),
      chapter(90, 'e'),
    ];
    expect(chapterOddities(all, 60)).toEqual([
      ['gap', 'lateStart'],
      ['untitled'],
      ['sameStart', 'overlaps', 'short'],
      [],
      ['pastEnd'],
    ]);
  });

  test('titles by a pattern', () => {
    const titles = (pattern: string) =>
      numbered([chapter(0, 'Fog'), chapter(5, '')], pattern, 3).map(({ title }) => title);
    expect(titles('Chapter :number: :title')).toEqual(['Chapter 3: Fog', 'Chapter 4:']);
    expect(titles(':titles')).toEqual([':titles', ':titles']);
  });
});

describe('files of chapters', () => {
  const BOOK: readonly Chapter[] = [
    { startSeconds: 0, endSeconds: null, title: 'Fog, & <lamps>', link: 'https://skerry.example/1' },
    { startSeconds: 61.4, endSeconds: null, title: 'Øyets lys', link: null },
    { startSeconds: 3661.04, endSeconds: null, title: 'Home', link: null },
  ];
  const of = { chapters: BOOK, file: 'book.m4b', title: 'A book', durationSeconds: 4000 };

  test.each(CHAPTER_FILES)('%s is read back as it was written, as far as it says it', (type) => {
    const read = readChapterFile(writeChapterFile(type, of));
    expect(read.type).toBe(type);
    const hasLinks = type === 'json' || type === 'csv';
    expect(read.chapters).toEqual(
      BOOK.map((one, index) => ({
        ...one,
        link: hasLinks ? one.link : null,
        // Cues always end somewhere.
        endSeconds: type === 'vtt' && index === 2 ? 4000 : null,
      })),
    );
  });

  test('a chapter that is kept out of the table of contents is none', () => {
    const json = {
      version: '1.2.0',
      chapters: [
        { startTime: 0, title: 'Fog' },
        { startTime: 30, toc: false, img: 'https://skerry.example/chart.jpg' },
        { startTime: 60, title: 'Home' },
      ],
    };
    expect(readChapterFile(JSON.stringify(json)).chapters.map(({ title }) => title)).toEqual(['Fog', 'Home']);
  });

  test('a table without names whose second column is times tells ends before titles', () => {
    const rows = '0.0\t61.4\tFog\n61.4\t120\tHome, again\n';
    expect(readChapterFile(rows).chapters).toEqual([
      { startSeconds: 0, endSeconds: 61.4, title: 'Fog', link: null },
      { startSeconds: 61.4, endSeconds: 120, title: 'Home, again', link: null },
    ]);
    expect(readChapterFile('0:00,Fog\n1:00,2:00\n').chapters.map(({ title }) => title)).toEqual([
      'Fog',
      '2:00',
    ]);
  });

  test('any chapters come back from JSON and CSV as they are', () => {
    const any = fc.array(
      fc.record({
        startSeconds: fc.nat(90_000_000).map((ms) => ms / 1000),
        title: fc.string().map((text) => text.replace(/[\r\n]/g, ' ').trim()),
      }),
      { minLength: 1, maxLength: 20 },
    );
    fc.assert(
      fc.property(any, fc.constantFrom('json' as const, 'csv' as const), (given, type) => {
        const chapters = given
          .map(({ startSeconds, title }) => chapter(startSeconds, title))
          .sort((a, b) => a.startSeconds - b.startSeconds);
        expect(readChapterFile(writeChapterFile(type, { ...of, chapters })).chapters).toEqual(chapters);
      }),
      { seed: 6, numRuns: 300 },
    );
  });

  test('rows of a table without names are time and title', () => {
    expect(readChapterFile('0:00\tFog\n1:05\tLow water\n').chapters).toEqual([
      chapter(0, 'Fog'),
      chapter(65, 'Low water'),
    ]);
    expect(readChapterFile('Title;Begin\nFog;0\nLow;1:05').chapters).toEqual([
      chapter(0, 'Fog'),
      chapter(65, 'Low'),
    ]);
  });

  test('cues lose their marks, and an end stays where it is none of the next one', () => {
    const text =
      'WEBVTT\n\n1\n00:00.000 --> 00:10.000 align:start\n<b>Fog</b> &amp; lamps\n\n00:12.000 --> 00:20.000\nLow\n';
    expect(readChapterFile(text).chapters).toEqual([chapter(0, 'Fog & lamps', 10), chapter(12, 'Low', 20)]);
  });

  test.each([
    ['0:00,Fog\nsoon,Low', 2],
    ['FILE "a.wav" WAVE\nTRACK 01 AUDIO\nINDEX 01 00:00:00\nFILE "b.wav" WAVE', 4],
    ['WEBVTT\n\nsoon --> later\nFog', 3],
    ['{"chapters":', null],
    ['{"chapters":[]}', null],
    ['', null],
  ])('%j is refused with its line', (text, line) => {
    const read = () => readChapterFile(text);
    expect(read).toThrow(ChapterFileError);
    expect(read).toThrow(expect.objectContaining({ line }));
  });

  test('no text is more than a moment, or anything but chapters or an error', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ maxLength: 400 }),
          fc.string({ maxLength: 200 }).map((text) => `WEBVTT\n${text}`),
        ),
        (text) => {
          try {
            expect(readChapterFile(text).chapters.length).toBeGreaterThan(0);
          } catch (error) {
            expect(error).toBeInstanceOf(ChapterFileError);
          }
        },
      ),
      { seed: 7, numRuns: 400 },
    );
  });
});

test('chapters of an episode come in order, nonsense left out', () => {
  const chapters = [
    { startTime: 9, endTime: 12, title: 'b', url: 'https://skerry.example/b', img: '/b.jpg' },
    { startTime: 0, img: 7, url: 'javascript:alert(1)', endTime: -1 },
    { title: 'no time' },
    null,
    { startTime: -1 },
  ];
  expect(readJsonChapters({ chapters })).toEqual([
    { chapter: { startSeconds: 0, endSeconds: null, title: '', link: null }, pictureUrl: null },
    {
      chapter: { startSeconds: 9, endSeconds: 12, title: 'b', link: 'https://skerry.example/b' },
      pictureUrl: '/b.jpg',
    },
  ]);
  expect(() => readJsonChapters({})).toThrow(TypeError);
});

describe('files of subtitles', () => {
  const WANTED = [
    { startSeconds: 0.5, endSeconds: 1.25, text: 'Who is there?' },
    { startSeconds: 62, endSeconds: 63, text: 'Only the tide.\nListen & wait.' },
  ];

  test.each([
    [
      'SubRip',
      '\ufeff1\r\n00:00:00,500 --> 00:00:01,250\r\n<i>Who is there?</i>\r\n\r\n2\r\n00:01:02,000 --> 00:01:03,000\r\n{\\an8}Only the tide.\r\nListen & wait.\r\n',
    ],
    [
      'WebVTT, in no order, with notes and what shows nothing',
      'WEBVTT - Skerry\n\nNOTE made by hand\n\n01:02.000 --> 01:03.000 line:0\n<v Maren>Only the tide.\nListen &amp; wait.\n\n00:00.500 --> 00:01.250\nWho is there?\n\n00:05.000 --> 00:04.000\nNever\n\n00:06.000 --> 00:07.000\n<i></i>\n',
    ],
  ])('are read from %s', (_, text) => {
    expect(readSubtitles(text)).toEqual(WANTED);
  });

  test.each([
    ['soon --> later\nFog', 1],
    ['Fog', 1],
  ])('%j are none', (text, row) => {
    expect(() => readSubtitles(text)).toThrow(expect.objectContaining({ name: 'SubtitleFileError', row }));
  });
});

describe('lists of chapters in other forms', () => {
  const INTRO_AND_ROPES = [
    { startSeconds: 0, title: 'Intro' },
    { startSeconds: 61.5, title: 'Ropes; knots' },
  ];

  test.each([
    ['lines', '0:00 Intro\n1:01.500 Ropes; knots\n'],
    ['lines', '[00:00:00] Intro\r\n\r\n[00:01:01.5] - Ropes; knots'],
    [
      'metadata',
      ';FFMETADATA1\ntitle=Book\n[CHAPTER]\nTIMEBASE=1/1000\nSTART=0\nEND=61500\ntitle=Intro\n' +
        '[CHAPTER]\nTIMEBASE=1/10\nSTART=615\nEND=900\ntitle=Ropes\\; knots\n',
    ],
    [
      'pairs',
      'CHAPTER01=00:00:00.000\nCHAPTER01NAME=Intro\nCHAPTER02=00:01:01.500\nCHAPTER02NAME=Ropes; knots\n',
    ],
    [
      'xml',
      '<?xml version="1.0"?><Chapters><EditionEntry><ChapterAtom><ChapterTimeStart>00:00:00.000000000' +
        '</ChapterTimeStart><ChapterDisplay><ChapterString>Intro</ChapterString></ChapterDisplay></ChapterAtom>' +
        '<ChapterAtom><ChapterFlagHidden>1</ChapterFlagHidden><ChapterTimeStart>00:00:05.000</ChapterTimeStart>' +
        '</ChapterAtom><ChapterAtom><ChapterTimeStart>00:01:01.500000000</ChapterTimeStart><ChapterDisplay>' +
        '<ChapterString>Ropes; knots</ChapterString></ChapterDisplay></ChapterAtom></EditionEntry></Chapters>',
    ],
  ])('%s', (type, text) => {
    const read = readChapterFile(text);
    expect(read.type).toBe(type);
    expect(read.chapters).toMatchObject(INTRO_AND_ROPES);
  });

  test('what has none of them is refused', () => {
    expect(() => readChapterFile('<?xml version="1.0"?><Chapters/>')).toThrow(ChapterFileError);
    expect(() => readChapterFile(';FFMETADATA1\ntitle=x')).toThrow(ChapterFileError);
    expect(() => readChapterFile('<!DOCTYPE Chapters [<!ENTITY a "b">]><Chapters/>')).toThrow(
      ChapterFileError,
    );
  });
});
