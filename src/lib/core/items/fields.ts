import { boolean, number, object, string, type ValidationError } from 'yup';
import type { Kind } from '../kinds';

/** Letters that a text field takes at the most. */
const MOST_LETTERS = 20_000;

/** What is said of an item. Null means that nothing is said. Several values of one field are joined by `; `. */
export interface Fields {
  readonly title: string | null;
  readonly artist: string | null;
  readonly albumArtist: string | null;
  readonly album: string | null;
  readonly year: number | null;
  readonly track: number | null;
  readonly tracks: number | null;
  readonly disc: number | null;
  readonly discs: number | null;
  readonly genre: string | null;
  readonly composer: string | null;
  readonly compilation: boolean | null;
  readonly show: string | null;
  readonly season: number | null;
  readonly episode: number | null;
  readonly narrator: string | null;
  /** Day it came out, `YYYY-MM-DD`, or as much of it as is known. */
  readonly date: string | null;
  readonly description: string | null;
  readonly lyrics: string | null;
}

export type FieldName = keyof Fields;
export type FieldValue = string | number | boolean | null;

/** Changed fields only. A field set to null is emptied; a field that is absent is untouched. */
export type Edits = { readonly [F in FieldName]?: Fields[F] };

export interface FieldFacts {
  readonly name: FieldName;
  readonly label: string;
  readonly type: 'text' | 'lines' | 'number' | 'yesno' | 'day';
  /** Holds several values, joined by `; `. */
  readonly many: boolean;
  /** Letters accepted at the most (text) or the largest number. */
  readonly limit: number;
  /** Kinds that it matters to; null for all. Other kinds show it only where it says something. */
  readonly kinds: readonly Kind[] | null;
}

const text = (
  name: FieldName,
  label: string,
  many = false,
  kinds: FieldFacts['kinds'] = null,
): FieldFacts => ({
  name,
  label,
  type: 'text',
  many,
  limit: MOST_LETTERS,
  kinds,
});
const count = (
  name: FieldName,
  label: string,
  limit: number,
  kinds: FieldFacts['kinds'] = null,
): FieldFacts => ({ name, label, type: 'number', many: false, limit, kinds });
const lines = (name: FieldName, label: string, kinds: FieldFacts['kinds'] = null): FieldFacts => ({
  ...text(name, label, false, kinds),
  type: 'lines',
});
const SHOWN: readonly Kind[] = ['episode', 'podcast'];

/** Every field, in the order in which the card asks for them. */
export const FIELDS: readonly FieldFacts[] = [
  text('title', 'title'),
  text('album', 'album'),
  text('albumArtist', 'album artist'),
  count('year', 'year', 9999),
  count('track', 'track', 9999),
  count('tracks', 'of tracks', 9999),
  count('disc', 'disc', 999),
  count('discs', 'of discs', 999),
  { name: 'compilation', label: 'compilation', type: 'yesno', many: false, limit: 1, kinds: null },
  text('show', 'show', false, SHOWN),
  count('season', 'season', 999, SHOWN),
  count('episode', 'episode', 9999, SHOWN),
  { ...text('date', 'date', false, ['episode', 'podcast', 'film']), type: 'day' },
  text('artist', 'artist', true),
  text('composer', 'composer', true),
  text('genre', 'genre', true),
  text('narrator', 'narrator', true, ['audiobook']),
  lines('description', 'description', ['episode', 'podcast', 'film', 'audiobook']),
  lines('lyrics', 'lyrics', ['song', 'musicVideo']),
];

const byName = new Map(FIELDS.map((field) => [field.name, field]));

/** @throws {RangeError} for a name that is no field */
export function requireField(name: string): FieldFacts {
  const field = byName.get(name as FieldName);
  if (!field) throw new RangeError(`no such field: ${name}`);
  return field;
}

export const EMPTY_FIELDS: Fields = {
  title: null,
  artist: null,
  albumArtist: null,
  album: null,
  year: null,
  track: null,
  tracks: null,
  disc: null,
  discs: null,
  genre: null,
  composer: null,
  compilation: null,
  show: null,
  season: null,
  episode: null,
  narrator: null,
  date: null,
  description: null,
  lyrics: null,
};

const line = () =>
  string()
    .nullable()
    .max(MOST_LETTERS, 'is longer than 20,000 letters')
    // eslint-disable-next-line no-control-regex
    .matches(/^[^\u0000]*$/, { message: 'holds a null letter', excludeEmptyString: true });
const whole = (limit: number) =>
  number()
    .nullable()
    .typeError('is not a number')
    .integer('is not a whole number')
    .min(0, 'is below 0')
    .max(limit, `is above ${limit}`);

/** The rules that every edit meets, typed or read in from a file. */
export const editsSchema = object({
  title: line(),
  artist: line(),
  albumArtist: line(),
  album: line(),
  genre: line(),
  composer: line(),
  year: whole(9999),
  track: whole(9999),
  tracks: whole(9999),
  disc: whole(999),
  discs: whole(999),
  compilation: boolean().nullable(),
  show: line(),
  season: whole(999),
  episode: whole(9999),
  narrator: line(),
  date: string()
    .nullable()
    .matches(/^\d{4}(-(0[1-9]|1[0-2])(-(0[1-9]|[12]\d|3[01]))?)?$/, {
      message: 'is not a day such as 2024-05-31',
      excludeEmptyString: true,
    }),
  description: line(),
  lyrics: line(),
}).noUnknown();

/** What no name, tag or address can hold: half letter pairs, null letters, a byte order mark in front. */
// eslint-disable-next-line no-control-regex
const UNWRITABLE = /\p{Surrogate}|\u0000|^\ufeff+/gu;

/** A text as it can be written anywhere. */
export function cleanText(text: string): string {
  return text.replace(UNWRITABLE, (found) => (found.isWellFormed() ? '' : '\ufffd'));
}

/** Fields whose texts can be written anywhere. The same object where there is nothing to clean. */
export function cleanFields<F extends Edits>(fields: F): F {
  const cleaned = Object.entries(fields)
    .filter((entry): entry is [string, string] => typeof entry[1] === 'string')
    .map(([name, value]) => [name, cleanText(value), value] as const)
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
  const { type } = requireField(name);
  const value = type === 'number' ? (/^\d+$/.test(trimmed) ? Number(trimmed) : trimmed) : trimmed;
  try {
    editsSchema.validateSyncAt(name, { [name]: value }, { strict: true });
    return { type: 'value', value };
  } catch (error) {
    return { type: 'wrong', reason: (error as ValidationError).errors[0] ?? 'is not accepted' };
  }
}

/** A value as a person reads it; empty for null. */
export function fieldText(value: FieldValue): string {
  if (value === null) return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return String(value);
}
