import {
  fieldText,
  fieldsOf,
  kindOf,
  isNumeric,
  requireField,
  type FieldName,
  type FieldValue,
  type Item,
} from '../items';
import { KINDS } from '../kinds';
import { stemOf } from '../paths';
import type { Asked } from '../query';
import { hasPicture } from './fullness';

/** What a column of items may show beside their fields: what their files are. */
export const FACT_COLUMNS = ['kind', 'path', 'format', 'length', 'size', 'rate', 'picture'] as const;
export type FactColumn = (typeof FACT_COLUMNS)[number];
/** What items are shown and put in order by. */
export type ColumnKey = FieldName | FactColumn;

/** What columns go by, of an item or of what stands for one. */
export type ColumnFacts = Pick<
  Asked,
  'fields' | 'path' | 'kind' | 'format' | 'size' | 'durationSeconds' | 'pictures'
>;

/** What stands for an item in the order of a column; null where it says nothing. Numbers compare as numbers. */
export function columnValue(item: Item, key: ColumnKey): string | number | null {
  // Sorting asks it of every item: nothing is made for what needs one field.
  if (isField(key)) return fieldValue(fieldsOf(item)[key], item.path, key);
  const { path, format, size } = item;
  const { durationSeconds } = item.facts;
  const pictures = key === 'picture' && hasPicture(item) ? 1 : 0;
  const fields = fieldsOf(item);
  return columnValueOf({ fields, path, kind: kindOf(item), format, size, durationSeconds, pictures }, key);
}

export function columnValueOf(facts: ColumnFacts, key: ColumnKey): string | number | null {
  switch (key) {
    case 'kind':
      return facts.kind && KINDS.indexOf(facts.kind);
    case 'path':
      return facts.path;
    case 'format':
      return facts.format;
    case 'length':
      return facts.durationSeconds;
    case 'size':
      return facts.size;
    case 'rate':
      return rateOf(facts);
    case 'picture':
      return facts.pictures > 0 ? 0 : null;
    default:
      return fieldValue(facts.fields[key], facts.path, key);
  }
}

const FACTS: ReadonlySet<string> = new Set(FACT_COLUMNS);
const isField = (key: ColumnKey): key is FieldName => !FACTS.has(key);

function fieldValue(value: FieldValue, path: string, name: FieldName): string | number | null {
  if (isNumeric(requireField(name).type)) return value as number | null;
  const text = value === null && name === 'title' ? stemOf(path) : fieldText(value);
  return text === '' ? null : text;
}

/** Bits a second over all of a file; null where its length is not known. */
export function rateOf({
  size,
  durationSeconds,
}: Pick<ColumnFacts, 'size' | 'durationSeconds'>): number | null {
  return durationSeconds ? (size * 8) / durationSeconds : null;
}
