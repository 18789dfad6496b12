import { parseFieldText, type FieldName, type FieldValue } from '../../items';
import { readPattern, requirePattern } from '../../naming';
import { stemOf } from '../../paths';
import type { Planned } from '../outgoing/item-plan';
import { isShared, type Neighbours } from './neighbours';

/** Ways in which files are named, read for what a missing field may be. */
const NUMBERED = [':disc-:track :title', ':track - :title', ':track. :title', ':track :title'].map((text) =>
  requirePattern(text),
);
const NAMED = [':artist - :title'].map((text) => requirePattern(text));

/** What a missing field most likely is, from the file's name and its neighbours; null without a ground. */
export function proposed<E extends Planned>(
  entry: E,
  field: FieldName,
  neighbours: Neighbours<E>,
): FieldValue {
  if (isShared(field)) return neighbours.usualOf(entry, field);
  if (field !== 'title' && field !== 'track' && field !== 'artist') return null;
  const { path, kind } = entry.item;
  const stem = stemOf(path);
  for (const pattern of kind === 'song' ? NUMBERED : NAMED) {
    const value = readPattern(pattern, stem)[0]?.values[field];
    if (value === undefined) continue;
    const parsed = parseFieldText(field, String(value));
    if (parsed.type === 'value') return parsed.value;
  }
  return field === 'title' ? stem.replace(/_/g, ' ').trim() : null;
}
