import {
  fieldText,
  fieldsOf,
  kindOf,
  isNumeric,
  requireField,
  titleOf,
  type FieldName,
  type Item,
} from '../items';
import { KINDS } from '../kinds';
import { hasPicture } from './fullness';

/** What a column of items may show beside their fields: what their files are. */
export const FACT_COLUMNS = ['kind', 'path', 'format', 'length', 'size', 'rate', 'picture'] as const;
export type FactColumn = (typeof FACT_COLUMNS)[number];
/** What items are shown and put in order by. */
export type ColumnKey = FieldName | FactColumn;

/** What stands for an item in the order of a column; null where it says nothing. Numbers compare as numbers. */
export function columnValue(item: Item, key: ColumnKey): string | number | null {
  switch (key) {
    case 'kind': {
      const kind = kindOf(item);
      return kind && KINDS.indexOf(kind);
    }
    case 'path':
      return item.path;
    case 'format':
      return item.format;
    case 'length':
      return item.facts.durationSeconds;
    case 'size':
      return item.size;
    case 'rate':
      return rateOf(item);
    case 'picture':
      return hasPicture(item) ? 0 : null;
    default:
      return fieldValue(item, key);
  }
}

function fieldValue(item: Item, name: FieldName): string | number | null {
  const value = fieldsOf(item)[name];
  if (isNumeric(requireField(name).type)) return value as number | null;
  const text = value === null && name === 'title' ? titleOf(item) : fieldText(value);
  return text === '' ? null : text;
}

/** Bits a second over all of a file; null where its length is not known. */
export function rateOf({ size, facts: { durationSeconds } }: Item): number | null {
  return durationSeconds ? (size * 8) / durationSeconds : null;
}
