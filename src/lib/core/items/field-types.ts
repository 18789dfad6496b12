/** The most letters of a text. */
const MOST_LETTERS = 20_000;
/** The most values of one field. */
const MOST_VALUES = 500;

/** The types of values. A missing value is null in every type: a list is never empty. */
export interface FieldTypes {
  text: string;
  /** Text of several lines. */
  lines: string;
  /** Several values in order, none of them empty. */
  texts: readonly string[];
  number: number;
  yesno: boolean;
  /** A day, month or year of the calendar, as precise as known: `2019`, `2019-05`, `2019-05-04`. */
  date: string;
  /** A language by its tag in canonical form (BCP 47): `en`, `gd`, `pt-BR`. */
  language: string;
  /** Decibels with two decimals, above or below 0. */
  gain: number;
}
export type FieldType = keyof FieldTypes;
export type FieldValue = FieldTypes[FieldType] | null;

/** Everything that differs between types. Typed texts arrive trimmed and not empty. */
interface TypeRules {
  /** Turns typed text into a value; `problem` reports wrong ones. */
  readonly read: (typed: string) => unknown;
  /** Why a value is not accepted; null if it is. @param limit the most letters, or the largest number */
  readonly problem: (value: unknown, limit: number) => string | null;
}

export const DATE = /^\d{4}(-(0[1-9]|1[0-2])(-(0[1-9]|[12]\d|3[01]))?)?$/;

const longerThan = (limit: number) => `is longer than ${limit.toLocaleString('en')} letters`;

const text: TypeRules = {
  read: (typed) => typed,
  problem: (value, limit) => {
    if (typeof value !== 'string') return 'is no text';
    if (value.length > limit) return longerThan(limit);
    return value.includes('\0') ? 'holds a null letter' : null;
  },
};

export const TYPE_RULES: Readonly<Record<FieldType, TypeRules>> = {
  text,
  lines: text,
  texts: {
    read: (typed) => toTexts([typed]),
    problem: (value, limit) => {
      if (!isTexts(value)) return 'is no list of texts';
      return value.every((one) => one.length <= limit) ? null : longerThan(limit);
    },
  },
  number: {
    read: (typed) => (/^\d+$/.test(typed) ? Number(typed) : typed),
    problem: (value, limit) => {
      if (typeof value !== 'number') return 'is not a number';
      if (!Number.isInteger(value)) return 'is not a whole number';
      if (value < 0) return 'is below 0';
      return value > limit ? `is above ${limit}` : null;
    },
  },
  yesno: {
    read: (typed) => (typed === 'yes' ? true : typed === 'no' ? false : typed),
    problem: (value) => (typeof value === 'boolean' ? null : 'is neither yes nor no'),
  },
  date: {
    read: (typed) => typed,
    problem: (value) =>
      typeof value === 'string' && DATE.test(value) ? null : 'is no date such as 2024, 2024-05 or 2024-05-31',
  },
  language: {
    read: (typed) => languageTag(typed) ?? typed,
    problem: (value) =>
      typeof value === 'string' && languageTag(value) === value
        ? null
        : 'is no language such as en, gd or pt-BR',
  },
  gain: {
    read: (typed) => decibelsIn(typed) ?? typed,
    problem: (value, limit) => {
      if (typeof value !== 'number' || !Number.isFinite(value)) return 'is no level such as -7.32 dB';
      return Math.abs(value) > limit ? `is more than ${limit} dB` : null;
    },
  },
};

/** Whether values of a type are numbers, which sort by size. */
export const isNumeric = (type: FieldType): boolean => type === 'number' || type === 'gain';

/** Decibels from a text such as `-7.32 dB`, with two decimals; null if it is not a number. */
export function decibelsIn(text: string): number | null {
  const number = /^([+-]?\d+(?:[.,]\d+)?)\s*(?:dB)?$/i.exec(text.trim())?.[1]?.replace(',', '.');
  return number === undefined ? null : (Math.round(Number(number) * 100) || 0) / 100;
}

/** The canonical tag of a language (BCP 47, RFC 5646): `eng`, `EN` and `en` become `en`. Null if it is not a tag. */
export function languageTag(text: string): string | null {
  try {
    return Intl.getCanonicalLocales(text.trim().replaceAll('_', '-'))[0] ?? null;
  } catch {
    return null;
  }
}

/** @returns the longest text or largest number of a type, unless a field sets its own limit */
export const limitOf = (type: FieldType): number =>
  type === 'yesno' || type === 'date' ? 10 : type === 'language' ? 60 : MOST_LETTERS;

const isTexts = (value: unknown): value is readonly string[] =>
  Array.isArray(value) &&
  value.length > 0 &&
  value.length <= MOST_VALUES &&
  value.every((one) => typeof one === 'string' && one !== '' && !one.includes('\0'));

/** Separates several values in one line. */
const PARTING = '; ';

/** Several values as one line. */
export function joinTexts(values: readonly string[]): string {
  return values.join(PARTING);
}

/**
 * Texts as a field holds them: split at `; `, trimmed, without empty ones and duplicates; null if none remain. Values
 * are then the same from every format, whether it separates them or joins them in one line.
 */
export function toTexts(values: Iterable<string>): readonly string[] | null {
  const texts = new Set<string>();
  for (const line of values)
    for (const value of line.split(/;+(?=\s|$)/)) if (value.trim() !== '') texts.add(value.trim());
  return texts.size === 0 ? null : [...texts];
}

/** A value as people read and type it; empty for null. */
export function fieldText(value: FieldValue): string {
  if (value === null) return '';
  if (typeof value === 'object') return joinTexts(value);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return String(value);
}

/** Whether two values of a field are equal. */
export function sameValue(a: FieldValue, b: FieldValue): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  return a.length === b.length && a.every((value, index) => value === b[index]);
}

/** Equal for equal values of a field, for counting and grouping. */
export function valueKey(value: FieldValue): string {
  return value === null ? '' : typeof value === 'object' ? value.join('\0') : String(value);
}

/** Whether two values are the same to a tag, in which missing, no and zero do not differ. */
export function sameInTags(a: FieldValue, b: FieldValue): boolean {
  const plain = (value: FieldValue) => (value === false || value === 0 ? null : value);
  return sameValue(plain(a), plain(b));
}
