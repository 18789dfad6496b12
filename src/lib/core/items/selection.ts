import { fieldsOf } from './content';
import { FIELDS, type FieldName } from './fields';
import { valueKey, type FieldValue } from './field-types';
import type { Item } from './item';

/** One field over a selection: a shared value, or how the items differ. */
export type SharedValue =
  | { readonly type: 'same'; readonly value: FieldValue }
  | {
      readonly type: 'differs';
      /** The value most items have, and its count. */
      readonly usual: FieldValue;
      readonly usualCount: number;
      readonly different: number;
      readonly empty: number;
      /** Values with their counts, most frequent first. */
      readonly values: readonly (readonly [FieldValue, number])[];
    };

/** Compares one field over all items of a selection. */
export function shareField(items: readonly Item[], field: FieldName): SharedValue {
  const counts = new Map<string, [FieldValue, number]>();
  for (const item of items) {
    const value = fieldsOf(item)[field];
    const known = counts.get(valueKey(value));
    if (known) known[1]++;
    else counts.set(valueKey(value), [value, 1]);
  }
  const values = [...counts.values()].sort((a, b) => b[1] - a[1]);
  const first = values[0] ?? ([null, 0] as const);
  if (values.length <= 1) return { type: 'same', value: first[0] };
  const usual = values.find(([value]) => value !== null) ?? first;
  return {
    type: 'differs',
    usual: usual[0],
    usualCount: usual[1],
    different: values.length,
    empty: counts.get('')?.[1] ?? 0,
    values,
  };
}

/** Every field over a selection. */
export function shareFields(items: readonly Item[]): ReadonlyMap<FieldName, SharedValue> {
  return new Map(FIELDS.map(({ name }) => [name, shareField(items, name)]));
}
