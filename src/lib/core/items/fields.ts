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
  /** Letters accepted at the most (texts) or the largest number. */
  readonly limit: number;
  /** Kinds that it matters to; null for all. Other kinds show it only where it says something. */
  readonly kinds: readonly Kind[] | null;
  /** Patterns can name it: what is short enough for a folder's or a file's name. */
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

/** Every field, in the order in which the card asks for them. Whatever differs between fields is said here. */
const TABLE = {
  title: row('text', 'title'),
  album: row('text', 'album'),
  albumArtist: row('text', 'album artist'),
  /** When it came out, as precisely as it is known; the year is read from it. */
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
  /** Tells versions of one release apart, beside its name: a remaster, another mastering, live. */
  edition: row('text', 'edition'),
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
  /** Decibels that a player adds to play it as loud as all else, alone and with its release. */
  trackGain: row('gain', 'track gain', { limit: 60, inNames: false }),
  albumGain: row('gain', 'album gain', { limit: 60, inNames: false }),
  description: row('lines', 'description', { kinds: ['episode', 'podcast', 'film', 'audiobook'] }),
  lyrics: row('lines', 'lyrics', { kinds: ['song', 'musicVideo'] }),
  comment: row('lines', 'comment'),
  notes: row('lines', 'notes'),
} as const;

export type FieldName = keyof typeof TABLE;

/** What is said of an item. Null means that nothing is said. */
export type Fields = { readonly [F in FieldName]: FieldTypes[(typeof TABLE)[F]['type']] | null };

/** Changed fields only. A field set to null is emptied; a field that is absent is untouched. */
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

/** @throws {RangeError} for a name that is no field */
export function requireField(name: string): FieldFacts {
  const field = byName.get(name as FieldName);
  if (!field) throw new RangeError(`no such field: ${name}`);
  return field;
}

export const EMPTY_FIELDS = Object.fromEntries(FIELD_NAMES.map((name) => [name, null])) as Fields;

/** What no name, tag or address can hold: half letter pairs, null letters, a byte order mark in front. */
// eslint-disable-next-line no-control-regex
const UNWRITABLE = /\p{Surrogate}|\u0000|^\ufeff+/gu;

/** A text as it can be written anywhere. */
export function cleanText(text: string): string {
  return text.replace(UNWRITABLE, (found) => (found.isWellFormed() ? '' : '\ufffd'));
}

/** A value as it can be written anywhere; the same object where there is nothing to clean. */
export function cleanValue<V extends FieldValue>(value: V): V {
  if (typeof value === 'string') return (cleanText(value) || null) as V;
  // Not so is what nothing said already means.
  if (value === false) return null as V;
  if (typeof value !== 'object' || value === null) return value;
  const clean = toTexts(value.map(cleanText));
  return (sameValue(clean, value) ? value : clean) as V;
}

/** Fields whose texts can be written anywhere. The same object where there is nothing to clean. */
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

/** What was typed for a field as its value: blanks at the ends go, an empty text empties the field. */
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

/** A year as the date that it is. Years of one to three digits keep their place in the calendar. */
export function yearDate(year: number): string {
  return String(year).padStart(4, '0');
}

/**
 * The date that a text begins with, as far as it is one: a time of day, a month of 00 and words behind it are
 * left out. Null where it begins with no year.
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

/** The more precise of two dates that may be the same; the first where they differ. */
export function preciserDate(first: string | null, second: string | null): string | null {
  if (first === null || second === null) return first ?? second;
  return second.startsWith(first) ? second : first;
}
