import { parseFieldText, type FieldName, type FieldValue } from '../../items';
import { readPattern, requirePattern } from '../../naming';
import { stemOf } from '../../paths';
import type { Planned } from '../outgoing/item-plan';
import { isShared, type Neighbours } from './neighbours';

/** Common forms of file names, from which missing fields are read. */
const NUMBERED = [':disc-:track :title', ':track - :title', ':track. :title', ':track :title'].map((text) =>
  requirePattern(text),
);
const NAMED = [':artist - :title'].map((text) => requirePattern(text));

/** A proposal for a missing field, from the file name and neighbouring files; null if there is no basis for one. */
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
