import {
  fieldOf,
  sameTimed,
  timedOf,
  chaptersOf,
  type Edits,
  type FieldName,
  type FieldValue,
  type Item,
  type Overlay,
} from '../items';
import { sameInTags } from '../plan';
import type { OriginalJob } from './originals';
import { saysChapters } from './unsaid';

/** One thing that a run wrote into a file which was changed after it. */
export interface PartToPutBack {
  readonly part: FieldName | 'chapters' | 'timed';
  /** What the run wrote, what stood there before it, and what the file says now; null for parts that are no value. */
  readonly wrote: FieldValue;
  readonly before: FieldValue;
  readonly now: FieldValue;
  /** The file still says what the run wrote: it can be put back, and nothing that came later is lost by it. */
  readonly isOurs: boolean;
}

/**
 * What of a run is left in a file that was changed after it, part by part.
 * @param item as its file was read since
 */
export function partsToPutBack({ changes, before }: OriginalJob, item: Item): readonly PartToPutBack[] {
  const file: Item = { ...item, edits: {} };
  const names = Object.keys(changes.fields ?? {}) as FieldName[];
  const parts = names.map((part): PartToPutBack => {
    const wrote = changes.fields?.[part] ?? null;
    const now = fieldOf(file, part);
    const isOurs = before.fields !== undefined && sameInTags(now, wrote);
    return { part, wrote, before: before.fields?.[part] ?? null, now, isOurs };
  });
  const other = (part: 'chapters' | 'timed', isOurs: boolean) =>
    parts.push({ part, wrote: null, before: null, now: null, isOurs });
  if (changes.chapters && before.chapters)
    other('chapters', saysChapters(changes.chapters, chaptersOf(file)));
  if (changes.timed && before.timed) other('timed', sameTimed(changes.timed, timedOf(file)));
  return parts;
}

/** What writes the parts back that are still as the run left them, and what is then said of the item again; null for nothing. */
export function puttingBack(
  job: OriginalJob,
  item: Item,
): { readonly changes: Overlay; readonly again: Overlay } | null {
  const ours = partsToPutBack(job, item).filter(({ isOurs }) => isOurs);
  if (ours.length === 0) return null;
  const pick = (from: Overlay): Overlay => {
    const names = ours.flatMap(({ part }) => (part === 'chapters' || part === 'timed' ? [] : [part]));
    const fields = Object.fromEntries(names.map((name) => [name, from.fields?.[name] ?? null])) as Edits;
    return {
      ...(names.length > 0 && { fields }),
      ...(ours.some(({ part }) => part === 'chapters') && { chapters: from.chapters ?? [] }),
      ...(ours.some(({ part }) => part === 'timed') && { timed: from.timed ?? [] }),
    };
  };
  return { changes: pick(job.before), again: pick(job.changes) };
}
