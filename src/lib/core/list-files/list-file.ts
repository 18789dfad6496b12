import type { OpenSaid } from '../lists';

/** Files that lists come in and go out as. `text` has one path in each line. */
export const LIST_FILES = ['m3u8', 'm3u', 'xspf', 'pls', 'text'] as const;
export type ListFileType = (typeof LIST_FILES)[number];

export const LIST_FILE_ENDINGS: Readonly<Record<ListFileType, string>> = {
  m3u8: 'm3u8',
  m3u: 'm3u',
  xspf: 'xspf',
  pls: 'pls',
  text: 'txt',
};

/** Why a file is not a list, and in which line. */
export class ListFileError extends Error {
  override readonly name = 'ListFileError';
  constructor(
    detail: string,
    /** From 1; null if no line can be named. */
    readonly line: number | null = null,
  ) {
    super(line === null ? detail : `line ${line}: ${detail}`);
  }
}

/** A list as written in a file. */
export interface ListOnFile {
  /** Null if the file has none. */
  readonly name: string | null;
  readonly entries: readonly OpenSaid[];
}

/** Bytes of a file: with more it is no list. */
export const MOST_LIST_BYTES = 32_000_000;
export const MOST_ENTRIES = 200_000;
/** Letters of a line: no system has longer paths, and few titles are longer. */
const MOST_LINE = 16_000;

/** @throws {ListFileError} for a text with more lines, or longer ones, than any list */
export function linesOf(text: string): readonly string[] {
  const lines: string[] = [];
  for (let at = 0; at <= text.length;) {
    const next = text.indexOf('\n', at);
    const end = next < 0 ? text.length : next;
    if (end - at > MOST_LINE)
      throw new ListFileError('is longer than any path: this is no list of files', lines.length + 1);
    lines.push(text.slice(at, text[end - 1] === '\r' ? end - 1 : end));
    // Each entry has at most two lines, and comments can be between them.
    if (lines.length > 4 * MOST_ENTRIES) throw tooMany();
    at = end + 1;
  }
  return lines;
}

export const tooMany = () =>
  new ListFileError(
    `it has more than ${MOST_ENTRIES.toLocaleString('en')} entries. Split it into several lists.`,
  );

/** A text within one line. */
export const inLine = (text: string): string => text.replace(/[\r\n]+/g, ' ');

/** `Artist - Title`, as lists have it in one text. */
export function partTitle(text: string): Pick<OpenSaid, 'title' | 'artist'> {
  const at = text.indexOf(' - ');
  if (text.trim() === '') return { title: null, artist: null };
  return at <= 0 ? { title: text, artist: null } : { artist: text.slice(0, at), title: text.slice(at + 3) };
}

export const joinTitle = ({ title, artist }: Pick<OpenSaid, 'title' | 'artist'>): string =>
  inLine([artist, title].filter((text) => text !== null && text !== '').join(' - '));
