import { sameInTags, sameValue, type FieldValue } from '../field-types';
import { cleanValue, type Edits, type FieldName, type Fields } from '../fields';
import type { Saying } from '../saying';
import { without } from './less';
import type { Part } from './part';

const NO_EDITS: Edits = {};

/** The fields as they will be written: those of the file with the curator's edits. */
export function fieldsOf({ file, edits }: Saying): Fields {
  return edits.fields ? { ...file.fields, ...edits.fields } : file.fields;
}

/** One of them, without combining all. */
export function fieldOf<N extends FieldName>({ file, edits }: Saying, name: N): Fields[N] {
  const edited = edits.fields?.[name];
  return edited === undefined ? file.fields[name] : edited;
}

/** The fields that differ from the file. */
export function editsOf({ edits }: Pick<Saying, 'edits'>): Edits {
  return edits.fields ?? NO_EDITS;
}

const namesOf = (edits: Edits) => Object.keys(edits) as FieldName[];

const picked = (names: readonly FieldName[], valueOf: (name: FieldName) => FieldValue | undefined): Edits =>
  Object.fromEntries(names.map((name) => [name, valueOf(name)]));

export const FIELDS_PART: Part<'fields'> = {
  label: 'fields',
  // Without intermediate lists, because an edit of a whole library calls this for every item.
  trim: (file, edits) => {
    let rest: Record<string, FieldValue> | undefined;
    for (const name in edits) {
      const value = edits[name as FieldName];
      if (value === undefined) continue;
      const clean = cleanValue(value);
      if (!sameValue(file.fields[name as FieldName], clean)) (rest ??= {})[name] = clean;
    }
    return rest;
  },
  same: (a, b) =>
    namesOf(a).length === namesOf(b).length &&
    namesOf(a).every((name) => name in b && sameValue(a[name] ?? null, b[name] ?? null)),
  lay: (under, over) => ({ ...under, ...over }),
  less: without,
  key: (edits) => edits,
  inFile: (file, edits) => picked(namesOf(edits), (name) => file.fields[name]),
  unsaid: (file, edits) => {
    const names = namesOf(edits).filter((name) => !sameInTags(edits[name] ?? null, file.fields[name]));
    return names.length > 0 ? picked(names, (name) => edits[name]) : undefined;
  },
  isSaid: (edits, found) =>
    namesOf(edits).every((name) => sameInTags(edits[name] ?? null, found.fields[name])),
  // What the file contains now is trimmed; what its format could not store stays.
  written: (edits) => edits,
  carry: (current, before, after) => {
    const names = namesOf({ ...before.edits.fields, ...after.edits.fields });
    const touched = names.filter((name) => !sameValue(fieldOf(before, name), fieldOf(after, name)));
    return { ...current.edits.fields, ...picked(touched, (name) => fieldOf(after, name)) };
  },
  chosen: () => [],
};
