import { XMLParser } from 'fast-xml-parser';
import type { Chapter } from '../items';
import { secondsOf, toMilliseconds } from './clock';

/** Further forms of chapter lists that are read. */
export type ChapterText = 'lines' | 'metadata' | 'pairs' | 'xml';

const LINE = /^[ ]*[[(]?(\d{1,4}(?::\d{2}){1,2}(?:[.,]\d+)?)[\])]?[ ]+(?:[-–—][ ]+)?(\S.*)$/;
const PAIR = /^CHAPTER(\d{2,3})(NAME)?=(.*)$/i;

/** The form of a chapter list, recognised by its beginning; null for none of these. */
export function chapterTextOf(text: string): ChapterText | null {
  const first = text.trimStart();
  if (first.startsWith(';FFMETADATA')) return 'metadata';
  if (/^<\?xml|^<!DOCTYPE Chapters|^<Chapters[\s>]/.test(first)) return 'xml';
  const [row = ''] = first.split(/\r\n|\r|\n/, 1);
  if (PAIR.test(row)) return 'pairs';
  return LINE.test(row) ? 'lines' : null;
}

/**
 * The chapters of such a list, in the order of the text: lines of a time and a title; the metadata text of FFmpeg; pairs of
 * `CHAPTER01=` and `CHAPTER01NAME=`, as OGM has them; and the XML of Matroska chapters.
 * @returns nothing where no chapter is recognised
 */
export const chaptersInText = (form: ChapterText, text: string): readonly Chapter[] => READERS[form](text);

const READERS: Readonly<Record<ChapterText, (text: string) => readonly Chapter[]>> = {
  lines: (text) =>
    rowsOf(text).flatMap((row) => {
      const [, time = '', title = ''] = LINE.exec(row) ?? [];
      return chapter(secondsOf(time), null, title);
    }),
  metadata: (text) =>
    // A section lasts until the next one begins (FFmpeg, "Metadata").
    text.split(/^\[/m).flatMap((section) => {
      if (!/^CHAPTER\]/i.test(section)) return [];
      const value = (key: string) =>
        new RegExp(`^${key}=((?:\\\\[^]|[^\\\\\\r\\n])*)`, 'im').exec(section)?.[1];
      const [over = 1, under = 1_000_000_000] = (value('TIMEBASE') ?? '').split('/').map(Number);
      const seconds = (key: string) => {
        const count = Number(value(key) ?? NaN);
        return Number.isFinite(count) && under > 0 ? toMilliseconds((count * over) / under) : null;
      };
      const title = (value('title') ?? '').replace(/\\([^])/g, '$1');
      return chapter(seconds('START'), seconds('END'), title);
    }),
  pairs: (text) => {
    const starts = new Map<string, string>();
    const titles = new Map<string, string>();
    for (const row of rowsOf(text)) {
      const [, number = '', isName, value = ''] = PAIR.exec(row.trim()) ?? [];
      (isName ? titles : starts).set(number, value);
    }
    return [...starts].flatMap(([number, start]) =>
      chapter(secondsOf(start), null, titles.get(number) ?? ''),
    );
  },
  xml: (text) => {
    if (/<!ENTITY/i.test(text)) return [];
    parser ??= new XMLParser({ parseTagValue: false, isArray: (name) => LISTS.has(name) });
    const parsed = parser.parse(text) as { Chapters?: { EditionEntry?: readonly Edition[] } };
    const [edition] = parsed.Chapters?.EditionEntry ?? [];
    return (edition?.ChapterAtom ?? []).flatMap((atom) =>
      atom.ChapterFlagHidden === '1'
        ? []
        : chapter(
            secondsOf(shortened(atom.ChapterTimeStart)),
            secondsOf(shortened(atom.ChapterTimeEnd)),
            atom.ChapterDisplay?.[0]?.ChapterString ?? '',
          ),
    );
  },
};

/** An edition in the XML of Matroska chapters, by the names of its elements (RFC 9559, section 5.1.7). */
interface Edition {
  readonly ChapterAtom?: readonly {
    readonly ChapterTimeStart?: string;
    readonly ChapterTimeEnd?: string;
    readonly ChapterFlagHidden?: string;
    readonly ChapterDisplay?: readonly { readonly ChapterString?: string }[];
  }[];
}

const LISTS: ReadonlySet<string> = new Set(['EditionEntry', 'ChapterAtom', 'ChapterDisplay']);
let parser: XMLParser | null = null;

/** A time with nanoseconds, cut to microseconds. */
const shortened = (time = ''): string => time.replace(/(\.\d{6})\d+$/, '$1');

const rowsOf = (text: string): readonly string[] => text.split(/\r\n|\r|\n/);

function chapter(startSeconds: number | null, endSeconds: number | null, title: string): readonly Chapter[] {
  if (startSeconds === null) return [];
  const end = endSeconds !== null && endSeconds > startSeconds ? endSeconds : null;
  return [{ startSeconds, endSeconds: end, title: title.trim(), link: null }];
}
