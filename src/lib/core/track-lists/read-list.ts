import Papa from 'papaparse';
import { parseJson } from '../json';
import { secondsOf } from '../timing';
import { isCueSheet, readCueSheet } from './cue-list';
import type { ListedEntry, ListedRelease } from './listed';

/** Entries of a list at the most. */
export const MOST_LISTED = 5000;

const NOTHING = { title: null, maker: null, year: null } as const;

/** A column of a table, or a part of a line. */
type Column = keyof ListedEntry;

/** What tables call their columns, letters and digits only. */
const COLUMNS: Readonly<Record<string, Column>> = {
  '': 'number',
  no: 'number',
  nr: 'number',
  number: 'number',
  track: 'number',
  tracknumber: 'number',
  episode: 'number',
  ep: 'number',
  noinseason: 'number',
  episodenumber: 'number',
  season: 'disc',
  disc: 'disc',
  cd: 'disc',
  side: 'disc',
  title: 'title',
  name: 'title',
  song: 'title',
  chapter: 'title',
  episodetitle: 'title',
  artist: 'artist',
  performer: 'artist',
  length: 'lengthSeconds',
  time: 'lengthSeconds',
  duration: 'lengthSeconds',
  runtime: 'lengthSeconds',
  seconds: 'lengthSeconds',
  lengthseconds: 'lengthSeconds',
  date: 'date',
  airdate: 'date',
  originalairdate: 'date',
  released: 'date',
  published: 'date',
  description: 'description',
  summary: 'description',
  aired: 'aired',
  airedorder: 'aired',
  discorder: 'pressed',
  ondisc: 'pressed',
  running: 'running',
  runningnumber: 'running',
  overall: 'running',
  nooverall: 'running',
};

const columnOf = (head: string): Column | null =>
  COLUMNS[head.toLowerCase().replace(/\[.*?\]|[^a-z0-9]+/g, '')] ?? null;

/**
 * The tracks or episodes in a text: a cue sheet, JSON with a list of objects, a table with or without a head row (tabs,
 * commas or semicolons), or one line for each, such as `3. Low Water 4:12` or `S01E02 Ballast`. Heads such as
 * `Season 2`, `Disc 1` or `Side B` apply to the lines after them. What is recognised nowhere becomes a title.
 */
export function readTrackList(text: string): ListedRelease {
  const plain = text.replace(/^\ufeff/, '').replace(/\u00a0/g, ' ');
  if (isCueSheet(plain)) return readCueSheet(plain);
  if (/^\s*[[{]\s*["{[]/.test(plain)) {
    const listed = readJsonList(plain);
    if (listed) return listed;
  }
  const rows = plain.split(/\r\n|\r|\n/).filter((row) => row.trim() !== '');
  const separator = separatorOf(rows);
  const entries = separator ? readTable(plain, separator) : readLines(rows);
  return { ...NOTHING, entries: entries.slice(0, MOST_LISTED) };
}

/** The separator of a table: all rows but heads have it; commas and semicolons only count below a head row. */
function separatorOf(rows: readonly string[]): string | null {
  const body = rows.filter((row) => !headOf(row));
  if (body.length === 0) return null;
  if (body.every((row) => row.includes('\t'))) return '\t';
  const [first = ''] = body;
  for (const separator of [',', ';']) {
    const names = first.split(separator);
    if (names.length > 1 && names.every((name) => columnOf(unquoted(name)) !== null && name.trim() !== ''))
      return separator;
  }
  return null;
}

const unquoted = (text: string): string => text.trim().replace(/^"(.*)"$/, '$1');

function readTable(text: string, separator: string): ListedEntry[] {
  const { data } = Papa.parse<string[]>(text, { delimiter: separator, skipEmptyLines: 'greedy' });
  const found: ListedEntry[] = [];
  let columns: readonly (Column | null)[] | null = null;
  let disc: number | undefined;
  for (const cells of data) {
    const filled = cells.filter((cell) => cell.trim() !== '');
    const head = filled.length === 1 ? headOf(filled[0] as string) : null;
    if (head !== null) {
      disc = head;
      continue;
    }
    const named = cells.map((cell) => (cell.trim() === '' ? null : columnOf(cell)));
    if (named.filter(Boolean).length >= 2 && named.includes('title')) {
      columns = named;
      continue;
    }
    columns ??= guessColumns(data);
    const entry = entryOf(columns, cells);
    if (entry.title === undefined && entry.lengthSeconds === undefined) continue;
    found.push(disc === undefined || entry.disc !== undefined ? entry : { ...entry, disc });
  }
  return found;
}

/** Columns of a table without a head row, by what most of their cells look like. */
function guessColumns(rows: readonly (readonly string[])[]): readonly (Column | null)[] {
  const width = Math.max(...rows.map((cells) => cells.length));
  const used = new Set<Column>();
  const looks: readonly (readonly [Column, RegExp])[] = [
    ['number', /^#?\d{1,3}\.?$/],
    ['lengthSeconds', /^\d{1,3}(:\d{2}){1,2}$|^\d+ ?min\.?$/],
    ['date', /^\d{4}-\d{2}-\d{2}$|\b(19|20)\d{2}\b/],
    ['title', /\p{L}/u],
    ['artist', /\p{L}/u],
  ];
  return Array.from({ length: width }, (_, column) => {
    const cells = rows.map((row) => row[column]?.trim() ?? '').filter(Boolean);
    const look = looks.find(
      ([name, form]) => !used.has(name) && cells.filter((cell) => form.test(cell)).length * 2 > cells.length,
    );
    if (look) used.add(look[0]);
    return look?.[0] ?? null;
  });
}

function entryOf(columns: readonly (Column | null)[], cells: readonly string[]): ListedEntry {
  const entry: { -readonly [C in Column]?: ListedEntry[C] } = {};
  for (const [index, column] of columns.entries()) {
    const cell = cells[index]?.trim() ?? '';
    if (!column || cell === '') continue;
    const value = valueOf(column, cell);
    if (value !== null) Object.assign(entry, { [column]: value });
  }
  return entry;
}

function valueOf(column: Column, cell: string): string | number | null {
  switch (column) {
    case 'title':
      return cell.replace(/^["\u201c](.*)["\u201d]$/, '$1');
    case 'artist':
    case 'description':
      return cell;
    case 'lengthSeconds':
      return lengthOf(cell);
    case 'date':
      return dateOf(cell);
    case 'disc':
      return sideOf(cell) ?? wholeOf(cell);
    default:
      return wholeOf(cell);
  }
}

function wholeOf(text: string): number | null {
  const digits = /\d{1,4}/.exec(text)?.[0];
  return digits === undefined ? null : Number(digits);
}

/** Seconds of `3:45`, `225` or `4 min`. */
function lengthOf(text: string): number | null {
  const minutes = /^(\d{1,4}) ?min/i.exec(text)?.[1];
  return minutes === undefined ? secondsOf(text.replace(/[()[\]]/g, '')) : Number(minutes) * 60;
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** `YYYY-MM-DD` of a date in that form, or with an English month: `3 May 2021`, `May 3, 2021`. */
function dateOf(text: string): string | null {
  const iso = /\b\d{4}-\d{2}-\d{2}\b/.exec(text)?.[0];
  if (iso !== undefined) return iso;
  const [, before, month = '', after, year] =
    /(?:(\d{1,2})\.? )?([A-Za-z]{3})[a-z]*\.? ?(?:(\d{1,2}),? )?(\d{4})/.exec(text) ?? [];
  const at = MONTHS.indexOf(month.toLowerCase());
  const day = before ?? after;
  if (at < 0 || day === undefined || year === undefined) return null;
  return `${year}-${String(at + 1).padStart(2, '0')}-${day.padStart(2, '0')}`;
}

/** A head: the disc or season that the lines after it belong to; null if a row is none. */
function headOf(row: string): number | null {
  const [, , digits, letter] =
    /^[\s\-–—=#*]*(season|series|disc|disk|cd|side|volume|part)\s+(?:(\d{1,2})|([a-h]))[\s:\-–—=#*]*$/i.exec(
      row,
    ) ?? [];
  if (letter !== undefined) return sideOf(letter);
  return digits === undefined ? null : Number(digits);
}

/** Sides of records count as A = 1, B = 2. */
const sideOf = (text: string): number | null =>
  /^[a-h]$/i.test(text) ? text.toUpperCase().charCodeAt(0) - 64 : null;

const EPISODE = /^s(\d{1,2})[ ._-]?e(\d{1,3})\b|^(\d{1,2})x(\d{2,3})\b/i;
const NUMBERED = /^(?:track |episode |ep\.? |chapter |no\.? |#)?(\d{1,4})(?:[.)]|:(?!\d)|\s+[-–—]|\s|$)/i;
const SIDED = /^([a-h])(\d{1,2})[.):]?\s+/i;
const LENGTH_AT_END = /(?:\s+[-–—]\s+|[\s\t(·|]+)(\d{1,3}(?::\d{2}){1,2})\)?$/;
const LENGTH_AT_FRONT = /^[(]?(\d{1,3}(?::\d{2}){1,2})[)]?\s+(?:[-–—]\s+)?/;

function readLines(rows: readonly string[]): ListedEntry[] {
  const found: ListedEntry[] = [];
  let disc: number | undefined;
  for (const row of rows) {
    const head = headOf(row);
    if (head === null) found.push(lineOf(row.trim(), disc));
    else disc = head;
  }
  return found;
}

function lineOf(row: string, head: number | undefined): ListedEntry {
  let rest = row;
  let disc = head;
  let number: number | undefined;
  const [episode, sided, numbered] = [EPISODE.exec(rest), SIDED.exec(rest), NUMBERED.exec(rest)];
  if (episode) {
    disc = Number(episode[1] ?? episode[3]);
    number = Number(episode[2] ?? episode[4]);
  } else if (sided) {
    disc = sideOf(sided[1] as string) ?? undefined;
    number = Number(sided[2]);
  } else if (numbered) number = Number(numbered[1]);
  rest = rest
    .slice((episode ?? sided ?? numbered)?.[0].length ?? 0)
    .replace(/^[\s.):\-–—]+/, '')
    .trim();
  const length = LENGTH_AT_END.exec(` ${rest}`) ?? LENGTH_AT_FRONT.exec(rest);
  const lengthSeconds = length ? lengthOf(length[1] as string) : null;
  if (lengthSeconds !== null && length) rest = ` ${rest}`.replace(length[0], ' ').trim();
  // A number alone may be all of the title, as of an album by years.
  const title = valueOf('title', rest === '' && lengthSeconds === null ? row : rest) as string;
  return {
    ...(number !== undefined && title !== row && { number }),
    ...(disc !== undefined && { disc }),
    ...(title !== '' && { title }),
    ...(lengthSeconds !== null && { lengthSeconds }),
  };
}

function readJsonList(text: string): ListedRelease | null {
  let json: unknown;
  try {
    json = parseJson(text);
  } catch {
    return null;
  }
  const holder = (Array.isArray(json) ? {} : json) as Readonly<Record<string, unknown>>;
  const list = Array.isArray(json) ? json : Object.values(holder).find((value) => Array.isArray(value));
  if (!Array.isArray(list)) return null;
  const entries = (list as unknown[]).slice(0, MOST_LISTED).flatMap((one): ListedEntry[] => {
    if (typeof one === 'string') return [{ title: one }];
    if (one === null || typeof one !== 'object') return [];
    const pairs = Object.entries(one).filter((pair) => ['string', 'number'].includes(typeof pair[1]));
    return [
      entryOf(
        pairs.map(([key]) => columnOf(key)),
        pairs.map(([, value]) => String(value)),
      ),
    ];
  });
  const word = (key: string) => (typeof holder[key] === 'string' ? holder[key] : null);
  const year = Number(holder.year ?? NaN);
  return {
    title: word('title') ?? word('album') ?? word('show'),
    maker: word('maker') ?? word('artist') ?? word('author'),
    year: Number.isInteger(year) ? year : null,
    entries,
  };
}
