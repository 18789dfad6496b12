import type { Kind } from '../kinds';
import {
  TYPE_RULES,
  limitOf,
  sameValue,
  toTexts,
  type FieldType,
  type FieldTypes,
  type FieldValue,
} from './field-types';

interface Row<T extends FieldType> {
  readonly type: T;
  readonly label: string;
  /** The most letters of texts, or the largest number. */
  readonly limit: number;
  /** Kinds that use it; null for all. Other kinds show it only if it has a value. */
  readonly kinds: readonly Kind[] | null;
  /** Patterns can use it, because it is short enough for a name of a folder or file. */
  readonly inNames: boolean;
}

function row<T extends FieldType>(
  type: T,
  label: string,
  rest: Partial<Omit<Row<T>, 'type' | 'label'>> = {},
): Row<T> {
  const inNames = type !== 'lines' && type !== 'yesno';
  return { type, label, limit: limitOf(type), kinds: null, inNames, ...rest };
}

const SHOWN: readonly Kind[] = ['episode', 'podcast'];

/** Every field, in the order of the card. All differences between fields are in this table. */
const TABLE = {
  title: row('text', 'title'),
  album: row('text', 'album'),
  albumArtist: row('text', 'album artist'),
  /** The release date, as precise as known; the year is taken from it. */
  date: row('date', 'date'),
  track: row('number', 'track', { limit: 9999 }),
  tracks: row('number', 'of tracks', { limit: 9999 }),
  disc: row('number', 'disc', { limit: 999 }),
  discs: row('number', 'of discs', { limit: 999 }),
  compilation: row('yesno', 'compilation'),
  show: row('text', 'show', { kinds: SHOWN }),
  season: row('number', 'season', { limit: 999, kinds: SHOWN }),
  episode: row('number', 'episode', { limit: 9999, kinds: SHOWN }),
  series: row('text', 'series', { kinds: ['audiobook'] }),
  part: row('number', 'part of series', { limit: 9999, kinds: ['audiobook'] }),
  /** Distinguishes versions of one release: a remaster, another mastering, live. */
  edition: row('text', 'edition'),
  /** Its number in a database that others keep, with the name of that: `catalogue-1234`. */
  outsideNumber: row('text', 'outside number', { limit: 80, kinds: ['film', 'episode', 'musicVideo'] }),
  artist: row('texts', 'artist'),
  composer: row('texts', 'composer'),
  genre: row('texts', 'genre'),
  narrator: row('texts', 'narrator', { kinds: ['audiobook'] }),
  titleSort: row('text', 'sort title', { inNames: false }),
  artistSort: row('text', 'sort artist', { inNames: false }),
  albumSort: row('text', 'sort album', { inNames: false }),
  albumArtistSort: row('text', 'sort album artist', { inNames: false }),
  language: row('language', 'language', { inNames: false }),
  /** From 0 to 100. */
  rating: row('number', 'rating', { limit: 100, inNames: false }),
  /**
   * Decibels by which a player changes the volume to the usual loudness, for the track alone and within its release.
   */
  trackGain: row('gain', 'track gain', { limit: 60, inNames: false }),
  albumGain: row('gain', 'album gain', { limit: 60, inNames: false }),
  description: row('lines', 'description', { kinds: ['episode', 'podcast', 'film', 'audiobook'] }),
  lyrics: row('lines', 'lyrics', { kinds: ['song', 'musicVideo'] }),
  comment: row('lines', 'comment'),
  notes: row('lines', 'notes'),
} as const;

export type FieldName = keyof typeof TABLE;

/** The description of an item. Null for no value. */
export type Fields = { readonly [F in FieldName]: FieldTypes[(typeof TABLE)[F]['type']] | null };

/** Changed fields only. Null empties a field; absent fields stay. */
export type Edits = { readonly [F in FieldName]?: Fields[F] };

export interface FieldFacts extends Row<FieldType> {
  readonly name: FieldName;
}

export const FIELDS: readonly FieldFacts[] = Object.entries(TABLE).map(([name, facts]) => ({
  name: name as FieldName,
  ...facts,
}));
export const FIELD_NAMES: readonly FieldName[] = FIELDS.map(({ name }) => name);

const byName = new Map(FIELDS.map((field) => [field.name, field]));

/** @throws {RangeError} if there is no field of this name */
export function requireField(name: string): FieldFacts {
  const field = byName.get(name as FieldName);
  if (!field) throw new RangeError(`no such field: ${name}`);
  return field;
}

export const EMPTY_FIELDS = Object.fromEntries(FIELD_NAMES.map((name) => [name, null])) as Fields;

/** Letters that no name, tag or address can hold: lone surrogates, null characters, a leading byte order mark. */
// eslint-disable-next-line no-control-regex
const UNWRITABLE = /\p{Surrogate}|\u0000|^\ufeff+/gu;

/** The text without letters that cannot be written. */
export function cleanText(text: string): string {
  return text.replace(UNWRITABLE, (found) => (found.isWellFormed() ? '' : '\ufffd'));
}

/** The value without letters that cannot be written; the same object if there are none. */
export function cleanValue<V extends FieldValue>(value: V): V {
  if (typeof value === 'string') return (cleanText(value) || null) as V;
  // `false` is stored as no value.
  if (value === false) return null as V;
  if (typeof value !== 'object' || value === null) return value;
  const clean = toTexts(value.map(cleanText));
  return (sameValue(clean, value) ? value : clean) as V;
}

/** Fields whose texts can be written anywhere. The same object if nothing had to be removed. */
export function cleanFields<F extends Edits>(fields: F): F {
  const cleaned = Object.entries(fields)
    .map(([name, value]) => [name, cleanValue(value), value] as const)
    .filter(([, clean, value]) => clean !== value);
  if (cleaned.length === 0) return fields;
  return { ...fields, ...Object.fromEntries(cleaned.map(([name, clean]) => [name, clean])) };
}

export type ParsedValue =
  | { readonly type: 'value'; readonly value: FieldValue }
  | { readonly type: 'wrong'; readonly reason: string };

/** The value that was typed for a field: spaces at the ends are removed, and an empty text empties the field. */
export function parseFieldText(name: FieldName, typed: string): ParsedValue {
  const trimmed = cleanText(typed).trim();
  if (trimmed === '') return { type: 'value', value: null };
  const { type, limit } = requireField(name);
  const { read, problem } = TYPE_RULES[type];
  const value = read(trimmed);
  const reason = value === null ? null : problem(value, limit);
  return reason === null ? { type: 'value', value: value as FieldValue } : { type: 'wrong', reason };
}

/** The year of a date, or null. */
export function yearOf({ date }: Pick<Fields, 'date'>): number | null {
  return date === null ? null : Number(date.slice(0, 4));
}

/** A year as a date, padded to four digits. */
export function yearDate(year: number): string {
  return String(year).padStart(4, '0');
}

/**
 * The date at the beginning of a text: a time of day, a month of 00 and following words are ignored. Null if there is
 * no year.
 */
export function dateIn(text: string): string | null {
  const parts = /^\s*(\d{4})(?:-(0[1-9]|1[0-2])(?:-(0[1-9]|[12]\d|3[01])(?!\d))?(?!\d))?/.exec(text);
  if (!parts) {
    const short = /^\s*(\d{1,3})(?!\d)/.exec(text)?.[1];
    return short && Number(short) > 0 ? yearDate(Number(short)) : null;
  }
  const [, year = '', month, day] = parts;
  if (year === '0000') return null;
  return [year, month, day].filter(Boolean).join('-');
}

/** The more precise of two dates that agree; the first if they differ. */
export function preciserDate(first: string | null, second: string | null): string | null {
  if (first === null || second === null) return first ?? second;
  return second.startsWith(first) ? second : first;
}
