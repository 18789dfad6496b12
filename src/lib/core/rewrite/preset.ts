import {
  FIELD_NAMES,
  fieldsOf,
  kindOf,
  type ChosenPicture,
  type FieldName,
  type FieldValue,
  type Item,
} from '../items';
import {
  parsePattern,
  patternValues,
  sourceNames,
  writePattern,
  type Pattern,
  type PatternProblem,
} from '../naming';

export type PresetId = string & { readonly __brand: 'PresetId' };

/** What is said again and again, of a show or for a purpose, under a name. */
export interface Preset {
  readonly id: PresetId;
  readonly name: string;
  /** What fields become: texts, in which `:field` stands for what the item says of it. */
  readonly fields: { readonly [F in FieldName]?: string };
  /** The front picture; null where it says nothing of that. */
  readonly picture: ChosenPicture | null;
}

/** What is wrong with the value of a field; null where it can be written. */
export function presetProblem(value: string): PatternProblem | null {
  if (value.trim() === '') return null;
  const parsed = parsePattern(value);
  return parsed.type === 'wrong' ? parsed.problem : null;
}

/** Values stay as they are: they are no names of files. */
const AS_THEY_ARE = { numberWidth: 1, safeValue: (text: string): string => text };

/** Writes the values of a preset for one item after the other; null for those that it lacks something for. */
export function presetWriter({
  fields,
}: Preset): (item: Item) => readonly (readonly [FieldName, FieldValue])[] {
  const patterns = FIELD_NAMES.flatMap((name): [FieldName, Pattern | null][] => {
    const value = fields[name];
    if (value === undefined) return [];
    const parsed = parsePattern(value);
    return [[name, value.trim() === '' || parsed.type === 'wrong' ? null : parsed.pattern]];
  });
  return (item) => {
    const values = patternValues(fieldsOf(item), kindOf(item), sourceNames(item.path));
    return patterns.flatMap(([name, pattern]): (readonly [FieldName, FieldValue])[] => {
      if (!pattern) return [[name, null]];
      const { parts, missing } = writePattern(pattern, values, AS_THEY_ARE);
      return missing.length > 0 ? [] : [[name, parts.join('/')]];
    });
  };
}
