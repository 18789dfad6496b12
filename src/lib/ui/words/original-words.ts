import { fieldText, requireField, type FieldName, type Item, type Overlay } from '$lib/core/items';
import type { WhyNot } from '$lib/core/originals';
import { drawn } from './value-words';

/** Why nothing is written into an original, and what would help. */
export const WHY_NOT: Readonly<Record<WhyNot, string>> = {
  browser: 'Lectorum has a copy of it alone: take its folder in by “Choose a folder”',
  gone: 'it is not in its folder any more',
  locked: 'its tags are locked',
  format: 'tags of its format are not written',
  unheld: 'its format has no place for what is said',
};

/** What is written into a file, part by part, and what stood there. */
export function partsOf(
  { file }: Item,
  { fields = {}, pictures, chapters, timed }: Overlay,
): readonly { readonly name: string; readonly now: string; readonly was: string }[] {
  const text = (value: Parameters<typeof fieldText>[0]) => drawn(fieldText(value)) || 'empty';
  return [
    ...(Object.keys(fields) as FieldName[]).map((name) => ({
      name: requireField(name).label,
      now: text(fields[name] ?? null),
      was: text(file.fields[name]),
    })),
    ...Object.keys(pictures ?? {}).map((role) => ({
      name: role === 'front' ? 'picture' : `picture, ${role}`,
      now: 'the chosen one',
      was: file.pictures.some((picture) => picture.role === role) ? 'its own' : 'none',
    })),
    ...(chapters
      ? [{ name: 'chapters', now: String(chapters.length), was: String(file.chapters.length) }]
      : []),
    ...(timed
      ? [{ name: 'timed lines', now: String(timed.length), was: String(file.timed?.length ?? 0) }]
      : []),
  ];
}
