import {
  EMPTY_FIELDS,
  dateIn,
  decibelsIn,
  preciserDate,
  requireField,
  toTexts,
  type Edits,
  type FieldName,
  type Fields,
  type FieldValue,
  type PictureRole,
  type TrackFlag,
} from '$lib/core/items';
import type { Kind } from '$lib/core/kinds';
import { joinPair, splitPair } from './format';

/** Decibels as all tags write them but those of Opus. */
export const withUnit = (text: string): string => `${Number(text).toFixed(2)} dB`;

/** Where a field lies in a format's tags, and what it can hold there. */
export interface TagRow {
  readonly field: FieldName;
  /** Native names. The first is written; the others are read where it is missing, and go when it is written. */
  readonly names: readonly string[];
  /** The field whose number stands behind a slash in the same value (`3/12`), where it has no name of its own. */
  readonly of?: FieldName;
  /** Names of that number; the first is written. */
  readonly totals?: readonly string[];
  /** Names that may say a date more precisely. They go when it is written. */
  readonly precise?: readonly string[];
  /** Its own names hold no more than the year: a more precise date is written to the first of `precise` as well. */
  readonly yearOnly?: boolean;
  /** Names that say the same otherwise and would contradict a new value. */
  readonly also?: readonly string[];
  /** A value as its tag writes it, where it must be told from something else, and back. */
  readonly write?: (text: string) => string;
  readonly read?: (text: string) => string;
  /** Whether readers take this text for what it is. All texts where it is absent. */
  readonly holds?: (text: string) => boolean;
}

/** What a format's tags can hold: its readers, its writer, its limits and its documentation come from this. */
export interface TagMap {
  readonly rows: readonly TagRow[];
  /** Roles of pictures that it tells apart; null for all of the standard's. */
  readonly pictures: readonly PictureRole[] | null;
  readonly chapters: ChapterLimits | null;
  /** Whether it holds words with their times. */
  readonly timed: boolean;
  /** Flags that its tracks have a place for; null where nothing is written of tracks. */
  readonly tracks: readonly TrackFlag[] | null;
  /** Kinds that its tags name, for programs that go by that. */
  readonly kinds: readonly Kind[];
  /**
   * What says of a file that it is of a kind, and what would say that it is of another one.
   * @param said what the file says with all changes; @param texts what its tags hold before
   */
  readonly marks: (kind: Kind, said: Fields, texts: NativeTexts) => readonly NativeChange[];
}

export interface ChapterLimits {
  readonly most: number;
  /** Bytes of a title in UTF-8, at the most. */
  readonly titleBytes: number;
  readonly links: boolean;
  /** Whether a chapter may end before the next one begins. */
  readonly ends: boolean;
  /** Bytes of their pictures in all, at the most; 0 where there is no place for any. */
  readonly pictureBytes: number;
}

/** Texts of tags by their native names, in the order of the file. */
export type NativeTexts = ReadonlyMap<string, readonly string[]>;

/** Adds a text under its name. Empty ones say nothing. */
export function addText(texts: Map<string, string[]>, name: string, text: string): void {
  if (text === '') return;
  const known = texts.get(name);
  if (known) known.push(text);
  else texts.set(name, [text]);
}

/** The fields that tags hold, as they stand: of each the first of its names that is there. */
export function readRows(rows: readonly TagRow[], texts: NativeTexts): Fields {
  const first = (names: readonly string[] = []) =>
    names.map((name) => texts.get(name)).find((found) => found !== undefined) ?? [];
  const said: Partial<Record<FieldName, FieldValue>> = {};
  for (const row of rows) {
    const found = first(row.names);
    const value = valueIn(row, found);
    const precise = first(row.precise).map(dateIn)[0] ?? null;
    said[row.field] = row.precise ? preciserDate(value as string | null, precise) : value;
    if (row.of) said[row.of] = splitPair(first(row.totals)[0] ?? null).no ?? splitPair(found[0] ?? null).of;
  }
  return { ...EMPTY_FIELDS, ...(said as Partial<Fields>) };
}

function valueIn({ field, read }: TagRow, texts: readonly string[]): FieldValue {
  const [text] = texts;
  if (text === undefined) return null;
  switch (requireField(field).type) {
    case 'yesno':
      return text === '1' ? true : null;
    case 'number':
      return splitPair(read ? read(text) : text).no;
    case 'gain': {
      const gain = decibelsIn(read ? read(text) : text);
      return gain !== null && Math.abs(gain) <= requireField(field).limit ? gain : null;
    }
    case 'date':
      return dateIn(text);
    case 'texts': {
      const values = toTexts(texts);
      return read && values ? toTexts(values.map(read)) : values;
    }
    default:
      return read ? read(text) : text;
  }
}

/** What is to stand under a native name from now on. */
export interface NativeChange {
  readonly name: string;
  /** Everything that goes for it, itself included. */
  readonly goes: readonly string[];
  /** One text for each value; none empties it. */
  readonly texts: readonly string[];
}

/** All changes of native tags: what edits come to, and what names the kind. @param texts what the tags hold now */
export function tagChangesFor(
  map: TagMap,
  { fields, kind }: { readonly fields: Edits; readonly kind?: Kind },
  texts: NativeTexts,
): readonly NativeChange[] {
  const before = readRows(map.rows, texts);
  const changes = rowChanges(map.rows, fields, before);
  return kind ? [...changes, ...map.marks(kind, { ...before, ...fields }, texts)] : changes;
}

/** Edits as changes of native tags. @param before what the tags say now, for numbers that share a value */
export function rowChanges(rows: readonly TagRow[], edits: Edits, before: Fields): readonly NativeChange[] {
  return rows.flatMap((row): NativeChange[] => {
    const isChanged = edits[row.field] !== undefined || (row.of && edits[row.of] !== undefined);
    if (!isChanged) return [];
    const now = { ...before, ...edits };
    const [name = '', ...others] = row.names;
    const goes = [...others, ...(row.also ?? [])];
    const all = [...goes, ...(row.precise ?? [])];
    const value = now[row.field];
    if (row.of) {
      const [no, of] = [value as number | null, now[row.of] as number | null];
      const [total] = row.totals ?? [];
      if (!total) return [change(name, goes, joinPair(no, of))];
      return [change(name, goes, joinPair(no, null)), change(total, row.totals ?? [], joinPair(of, null))];
    }
    if (typeof value === 'object')
      return [{ name, goes: [name, ...all], texts: (value ?? []).map(row.write ?? same) }];
    if (row.yearOnly && typeof value === 'string' && value.length > 4) {
      const [precise = '', ...rest] = row.precise ?? [];
      return [change(name, goes, value.slice(0, 4)), change(precise, rest, value)];
    }
    const text = value === true ? '1' : value === null || value === false ? null : String(value);
    return [change(name, all, text !== null && row.write ? row.write(text) : text)];
  });
}

const same = (text: string): string => text;

const change = (name: string, goes: readonly string[], text: string | null): NativeChange => ({
  name,
  goes: [name, ...goes],
  texts: text === null ? [] : [text],
});

/** Whether a value that is written is read as it was meant. */
export function holdsValue(map: TagMap, field: FieldName, value: FieldValue): boolean {
  if (value === null) return true;
  const row = map.rows.find((one) => one.field === field || one.of === field);
  if (!row) return false;
  // No number is told from a zero.
  if (typeof value === 'number') return requireField(field).type === 'gain' || value > 0;
  const { holds } = row;
  if (!holds || typeof value === 'boolean') return true;
  return typeof value === 'string' ? holds(value) : value.every(holds);
}
