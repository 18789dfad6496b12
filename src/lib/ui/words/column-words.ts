import { rateOf, type Aspect, type ColumnKey } from '$lib/core/browse';
import {
  FORMAT_NAMES,
  fieldText,
  fieldsOf,
  kindOf,
  isNumeric,
  requireField,
  titleOf,
  yearOf,
  type Item,
} from '$lib/core/items';
import { KIND_FACTS } from '$lib/core/kinds';
import { bytes, clock } from './amounts';

const OF_FILES: Readonly<Record<string, string>> = {
  kind: 'kind',
  path: 'path',
  format: 'format',
  length: 'length',
  size: 'size',
  rate: 'kbit/s',
  picture: 'picture',
};

/** The name of a column. */
export const columnName = (key: ColumnKey): string => OF_FILES[key] ?? requireField(key).label;

/** What a cell of it says; empty where there is nothing to say. */
export function columnText(item: Item, key: ColumnKey): string {
  const fields = fieldsOf(item);
  switch (key) {
    case 'kind': {
      const kind = kindOf(item);
      return kind ? KIND_FACTS[kind].one : '';
    }
    case 'path':
      return item.path;
    case 'format':
      return FORMAT_NAMES[item.format];
    case 'length':
      return item.facts.durationSeconds === null ? '' : clock(item.facts.durationSeconds);
    case 'size':
      return bytes(item.size);
    case 'rate': {
      const rate = rateOf({ size: item.size, durationSeconds: item.facts.durationSeconds });
      return rate === null ? '' : Math.round(rate / 1000).toLocaleString('en');
    }
    case 'picture':
      return '';
    case 'title':
      return titleOf(item);
    case 'track':
      return `${fields.disc && (fields.discs ?? 1) > 1 ? `${fields.disc}-` : ''}${fields.track ?? ''}`;
    case 'date':
      return String(yearOf(fields) ?? '');
    default:
      return fieldText(fields[key]);
  }
}

/** Whether the text of a column stands at its right end, as numbers do. */
export const isRight = (key: ColumnKey): boolean =>
  ['length', 'size', 'rate'].includes(key) || (!(key in OF_FILES) && isNumeric(requireField(key).type));

export const ASPECT_WORDS: Readonly<Record<Aspect, string>> = {
  title: 'title',
  maker: 'maker',
  release: 'release',
  number: 'number',
  year: 'year',
  genre: 'genre',
  picture: 'picture',
  words: 'words',
  chapters: 'chapters',
};
