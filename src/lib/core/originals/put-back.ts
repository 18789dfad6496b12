import {
  PART_NAMES,
  fieldOf,
  readOtherwise,
  sameInTags,
  type Edits,
  type FieldName,
  type FieldValue,
  type Item,
  type Overlay,
  type PartName,
} from '../items';
import type { OriginalJob } from './originals';

/** One thing that a run wrote into a file which was changed after it: a field, or another part as a whole. */
export type PartToPutBack = {
  /** The file still contains what the run wrote: it can be put back without losing later changes. */
  readonly isOurs: boolean;
} & (
  | {
      readonly type: 'field';
      readonly field: FieldName;
      /** What the run wrote, the value before, and the present one. */
      readonly wrote: FieldValue;
      readonly before: FieldValue;
      readonly now: FieldValue;
    }
  | { readonly type: 'part'; readonly part: PartName }
);

/**
 * The parts of a run that remain in a file that was changed later.
 * @param item as its file was read since
 */
export function partsToPutBack({ changes, before }: OriginalJob, item: Item): readonly PartToPutBack[] {
  const file: Item = { ...item, edits: {} };
  const names = Object.keys(changes.fields ?? {}) as FieldName[];
  const fields = names.map((field): PartToPutBack => {
    const wrote = changes.fields?.[field] ?? null;
    const now = fieldOf(file, field);
    const isOurs = before.fields !== undefined && sameInTags(now, wrote);
    return { type: 'field', field, wrote, before: before.fields?.[field] ?? null, now, isOurs };
  });
  const otherwise = new Set(readOtherwise(changes, item.file));
  const others = PART_NAMES.filter((name) => name !== 'fields' && changes[name] && before[name]);
  return [
    ...fields,
    ...others.map((part): PartToPutBack => ({ type: 'part', part, isOurs: !otherwise.has(part) })),
  ];
}

/**
 * What restores the parts that are still as the run wrote them, and the edits that the item gets again; null for
 * nothing.
 */
export function puttingBack(
  job: OriginalJob,
  item: Item,
): { readonly changes: Overlay; readonly again: Overlay } | null {
  const ours = partsToPutBack(job, item).filter(({ isOurs }) => isOurs);
  if (ours.length === 0) return null;
  const names = ours.flatMap((one) => (one.type === 'field' ? one.field : []));
  const parts = ours.flatMap((one) => (one.type === 'part' ? one.part : []));
  const pick = (from: Overlay): Overlay => {
    const fields = Object.fromEntries(names.map((name) => [name, from.fields?.[name] ?? null])) as Edits;
    return {
      ...(names.length > 0 && { fields }),
      ...Object.fromEntries(parts.map((part) => [part, from[part]])),
    };
  };
  return { changes: pick(job.before), again: pick(job.changes) };
}
