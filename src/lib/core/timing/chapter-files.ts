import Papa from 'papaparse';
import { longTime, type Chapter } from '../items';
import { parseJson } from '../json';
import { chapterTextOf, chaptersInText, type ChapterText } from './chapter-texts';
import { secondsOf, timeText, toMilliseconds } from './clock';
import { SubtitleFileError, plainText, readWrittenCues, type WrittenCue } from './subtitle-files';

/** Files that chapters come in and go out as. */
export const CHAPTER_FILES = ['json', 'cue', 'vtt', 'csv'] as const;
export type ChapterFile = (typeof CHAPTER_FILES)[number];

/** Why a file holds no chapters, and in which line. */
export class ChapterFileError extends Error {
  override readonly name = 'ChapterFileError';
  constructor(
    detail: string,
    /** From 1; null where no line can be named. */
    readonly line: number | null = null,
  ) {
    super(detail);
  }
}

/** More than any recording has. */
const MOST_CHAPTERS = 100_000;
/** Letters of a file: with more it is none of chapters. */
const MOST_LETTERS = 8_000_000;
/** A cue sheet counts frames of a disc (IEC 60908): so many are a second. */
const FRAMES = 75;

/** The chapters of a file, whatever it is called, in the order of their starts. @throws {ChapterFileError} */
export function readChapterFile(text: string): {
  readonly type: ChapterFile | ChapterText;
  readonly chapters: readonly Chapter[];
} {
  if (text.length > MOST_LETTERS) throw new ChapterFileError('it is too large for a list of chapters');
  const plain = text.replace(/^\ufeff/, '');
  const form = chapterTextOf(plain);
  const type = form ?? typeOf(plain);
  const chapters = form ? chaptersInText(form, plain) : READERS[typeOf(plain)](plain);
  if (chapters.length === 0) throw new ChapterFileError('no chapter begins in it');
  if (chapters.length > MOST_CHAPTERS) throw new ChapterFileError('it has more chapters than any recording');
  return { type, chapters: [...chapters].sort((a, b) => a.startSeconds - b.startSeconds) };
}

function typeOf(text: string): ChapterFile {
  if (/^\s*[{[]/.test(text)) return 'json';
  if (/^WEBVTT(?:\s|$)/.test(text)) return 'vtt';
  return /^\s*INDEX\s+\d+\s+\d+:\d+:\d+/im.test(text) ? 'cue' : 'csv';
}

const READERS: Readonly<Record<ChapterFile, (text: string) => readonly Chapter[]>> = {
  json: readJson,
  cue: readCue,
  vtt: readVtt,
  csv: readCsv,
};

const isTime = (value: unknown): value is number =>
  typeof value === 'number' && value >= 0 && Number.isFinite(value);

const asLink = (text: unknown): string | null =>
  typeof text === 'string' && /^https?:\/\//.test(text) ? text : null;

/** A chapter, and where its picture is to be had. */
export interface JsonChapter {
  readonly chapter: Chapter;
  readonly pictureUrl: string | null;
}

/**
 * Chapters of the open JSON format for podcasts, in order; what has no time is left out.
 * @throws {TypeError} when it is none
 */
export function readJsonChapters(json: unknown): readonly JsonChapter[] {
  const list = (json as { chapters?: unknown } | null)?.chapters;
  if (!Array.isArray(list)) throw new TypeError('no list of chapters');
  return list
    .flatMap((one: unknown) => {
      const { startTime, endTime, title, url, img, toc } = (one ?? {}) as Readonly<Record<string, unknown>>;
      // One that is kept out of the table of contents only shows something else for a while.
      if (!isTime(startTime) || toc === false) return [];
      return [
        {
          chapter: {
            startSeconds: startTime,
            endSeconds: isTime(endTime) && endTime > startTime ? endTime : null,
            title: typeof title === 'string' ? title : '',
            link: asLink(url),
          },
          pictureUrl: typeof img === 'string' && img !== '' ? img : null,
        },
      ];
    })
    .sort((a, b) => a.chapter.startSeconds - b.chapter.startSeconds);
}

function readJson(text: string): readonly Chapter[] {
  try {
    return readJsonChapters(parseJson(text)).map(({ chapter }) => chapter);
  } catch (error) {
    throw new ChapterFileError(error instanceof Error ? error.message : String(error));
  }
}

/** A cue sheet of one recording: each track's index 01 is where its chapter begins. */
function readCue(text: string): readonly Chapter[] {
  const chapters: Chapter[] = [];
  let title: string | null = null;
  let files = 0;
  for (const [index, row] of text.split(/\r\n|\r|\n/).entries()) {
    if (/^\s*FILE\s/i.test(row) && ++files > 1)
      throw new ChapterFileError('it tells of several files, so its times are not those of one', index + 1);
    if (/^\s*TRACK\s/i.test(row)) title = '';
    const named = /^\s*TITLE\s+(?:"(.*)"|(.*?))\s*$/i.exec(row);
    if (named && title !== null) title = named[1] ?? named[2] ?? '';
    const at = /^\s*INDEX\s+0*1\s+(\d+):(\d{1,2}):(\d{1,2})\s*$/i.exec(row);
    if (!at) continue;
    const [, minutes, seconds, frames] = at.map(Number) as [number, number, number, number];
    const startSeconds = toMilliseconds(minutes * 60 + seconds + frames / FRAMES);
    chapters.push({ startSeconds, endSeconds: null, title: title ?? '', link: null });
  }
  return chapters;
}

/** Cues of WebVTT (W3C, section 4.1): each is a chapter from its start to its end. */
function readVtt(text: string): readonly Chapter[] {
  const chapters = cuesIn(text).map(({ startSeconds, endSeconds, lines }): Chapter => ({
    startSeconds,
    endSeconds: endSeconds > startSeconds ? endSeconds : null,
    title: plainText(lines.join(' ')),
    link: null,
  }));
  // An end that says no more than that the next one begins is none.
  return chapters.map((one, index) =>
    one.endSeconds !== null &&
    Math.abs((chapters[index + 1]?.startSeconds ?? Infinity) - one.endSeconds) < 0.002
      ? { ...one, endSeconds: null }
      : one,
  );
}

function cuesIn(text: string): readonly WrittenCue[] {
  try {
    return readWrittenCues(text);
  } catch (error) {
    if (error instanceof SubtitleFileError) throw new ChapterFileError(error.message, error.row);
    throw error;
  }
}

/** Names that a column of times, titles, ends or links may go by, in small letters. */
const COLUMNS: readonly (readonly [keyof Chapter, RegExp])[] = [
  [
    'startSeconds',
    /^(start|starttime|start time|begin|time|from|position|start_seconds|startseconds|seconds)$/,
  ],
  ['endSeconds', /^(end|endtime|end time|to|until|end_seconds|endseconds)$/],
  ['title', /^(title|name|chapter|text|label|heading)$/],
  ['link', /^(link|url|address|href)$/],
];

/** Rows of time and title, in that order unless a first row names its columns otherwise. */
function readCsv(text: string): readonly Chapter[] {
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
  const [first = []] = data;
  const names = first.map((name) => name.trim().toLowerCase());
  const columnOf = (field: keyof Chapter) =>
    names.findIndex((name) => COLUMNS.some(([own, by]) => own === field && by.test(name)));
  const hasNames = columnOf('startSeconds') >= 0 && secondsOf(first[columnOf('startSeconds')] ?? '') === null;
  const at = hasNames
    ? {
        start: columnOf('startSeconds'),
        end: columnOf('endSeconds'),
        title: columnOf('title'),
        link: columnOf('link'),
      }
    : hasEnds(data)
      ? { start: 0, end: 1, title: 2, link: 3 }
      : { start: 0, end: -1, title: 1, link: 2 };
  return data.slice(hasNames ? 1 : 0).map((row, index): Chapter => {
    const startSeconds = secondsOf(row[at.start] ?? '');
    if (startSeconds === null)
      throw new ChapterFileError(
        `“${(row[at.start] ?? '').slice(0, 40)}” is no time`,
        index + (hasNames ? 2 : 1),
      );
    const endSeconds = secondsOf(row[at.end] ?? '');
    return {
      startSeconds,
      endSeconds: endSeconds !== null && endSeconds > startSeconds ? endSeconds : null,
      title: row[at.title]?.trim() ?? '',
      link: asLink(row[at.link]?.trim()),
    };
  });
}

/** Whether rows without names tell where chapters end before they tell their titles. */
const hasEnds = (rows: readonly (readonly string[])[]): boolean =>
  rows.every((row) => row.length > 2 && secondsOf(row[1] ?? '') !== null);

/** What a file of chapters says beside them. */
export interface ChaptersOf {
  readonly chapters: readonly Chapter[];
  /** Name of the recording's file, which a cue sheet points to. */
  readonly file: string;
  readonly title: string;
  readonly durationSeconds: number | null;
}

export function writeChapterFile(type: ChapterFile, of: ChaptersOf): string {
  return WRITERS[type](of);
}

const WRITERS: Readonly<Record<ChapterFile, (of: ChaptersOf) => string>> = {
  json: ({ chapters }) =>
    `${JSON.stringify(
      {
        version: '1.2.0',
        chapters: chapters.map(({ startSeconds, endSeconds, title, link }) => ({
          startTime: startSeconds,
          ...(endSeconds !== null && { endTime: endSeconds }),
          title,
          ...(link !== null && { url: link }),
        })),
      },
      null,
      2,
    )}\n`,
  cue: ({ chapters, file, title }) =>
    [
      `TITLE "${quoted(title)}"`,
      `FILE "${quoted(file)}" WAVE`,
      ...chapters.flatMap((chapter, index) => [
        `  TRACK ${String(index + 1).padStart(2, '0')} AUDIO`,
        `    TITLE "${quoted(chapter.title)}"`,
        `    INDEX 01 ${framesText(chapter.startSeconds)}`,
      ]),
      '',
    ].join('\n'),
  vtt: ({ chapters, durationSeconds }) =>
    `WEBVTT\n\n${chapters
      .map(({ startSeconds, endSeconds, title }, index) => {
        const next = chapters[index + 1]?.startSeconds ?? durationSeconds ?? startSeconds + 1;
        const end = endSeconds ?? Math.max(next, startSeconds + 0.001);
        return `${longTime(startSeconds)} --> ${longTime(end)}\n${escaped(title) || '\u00a0'}\n`;
      })
      .join('\n')}`,
  csv: ({ chapters }) =>
    `${Papa.unparse(
      {
        fields: ['start', 'end', 'title', 'link'],
        data: chapters.map(({ startSeconds, endSeconds, title, link }) => [
          timeText(startSeconds),
          endSeconds === null ? '' : timeText(endSeconds),
          title,
          link ?? '',
        ]),
      },
      { newline: '\n' },
    )}\n`,
};

/** A cue sheet has no way to say a quotation mark inside another. */
const quoted = (text: string): string => text.replace(/"/g, '\u201d').replace(/[\r\n]+/g, ' ');
const escaped = (text: string): string =>
  text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/[\r\n]+/g, ' ')
    .trim();

function framesText(seconds: number): string {
  const all = Math.round(seconds * FRAMES);
  const part = (value: number) => String(Math.floor(value)).padStart(2, '0');
  return `${part(all / (60 * FRAMES))}:${part((all / FRAMES) % 60)}:${part(all % FRAMES)}`;
}
