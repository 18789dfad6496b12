import { boolean, number, object, string, type ValidationError } from 'yup';

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
}

export type FieldName = keyof Fields;
export type FieldValue = string | number | boolean | null;

/** Changed fields only. A field set to null is emptied; a field that is absent is untouched. */
export type Edits = { readonly [F in FieldName]?: Fields[F] };

export interface FieldFacts {
  readonly name: FieldName;
  readonly label: string;
  readonly type: 'text' | 'number' | 'yesno';
  /** Holds several values, joined by `; `. */
  readonly many: boolean;
  /** Letters accepted at the most (text) or the largest number. */
  readonly limit: number;
}

const text = (name: FieldName, label: string, many = false): FieldFacts => ({
  name,
  label,
  type: 'text',
  many,
  limit: 20_000,
});
const count = (name: FieldName, label: string, limit: number): FieldFacts => ({
  name,
  label,
  type: 'number',
  many: false,
  limit,
});

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
  { name: 'compilation', label: 'compilation', type: 'yesno', many: false, limit: 1 },
  text('artist', 'artist', true),
  text('composer', 'composer', true),
  text('genre', 'genre', true),
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
};

const line = () =>
  string()
    .nullable()
    .max(20_000, 'is longer than 20,000 letters')
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
}).noUnknown();

export type ParsedValue =
  | { readonly type: 'value'; readonly value: FieldValue }
  | { readonly type: 'wrong'; readonly reason: string };

/** What was typed for a field as its value: blanks at the ends go, an empty text empties the field. */
export function parseFieldText(name: FieldName, typed: string): ParsedValue {
  const trimmed = typed.trim();
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
