import type { Chapter } from '../chapters';
import { contentHash } from '../content';
import { toTexts } from '../field-types';
import { EMPTY_FIELDS, dateIn, yearDate, type Edits, type Fields } from '../fields';
import { roleOfWords, type ChosenPicture } from '../pictures';
import type { Content, Overlay } from '../saying';

/*
 * What earlier versions kept of an item's content, as this one has it. Up to version 2 of a library, several values
 * were one text parted by `; `, a year stood beside the date, and edits, picture and chapters lay apart.
 */

type OldValues = Readonly<Record<string, unknown>>;

/** Fields of that version that hold several values now. */
const SEVERAL = new Set(['artist', 'composer', 'genre', 'narrator']);

function valuesOf({ year: _, ...old }: OldValues): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(old).map(([name, value]) => [
      name,
      SEVERAL.has(name) && typeof value === 'string' ? toTexts(value.split('; ')) : value,
    ]),
  );
}

const yearText = (year: unknown): string | null =>
  typeof year === 'number' && Number.isInteger(year) && year > 0 && year <= 9999 ? yearDate(year) : null;

/**
 * Dates were kept as in files, with months of 00 among them: what is not a date of the calendar is dropped.
 * @param old fields of a file; odd numbers, which some files hold, are kept
 */
export function earlierFields(old: OldValues): Fields {
  const { year, date } = old;
  return {
    ...EMPTY_FIELDS,
    ...valuesOf(old),
    date: (typeof date === 'string' ? dateIn(date) : null) ?? yearText(year),
  };
}

/** @param fileYear the year in the file, which an emptied date left in place */
export function earlierEdits(old: OldValues, fileYear: unknown = null): Edits {
  const { date: _, ...edits } = valuesOf(old);
  if (typeof old.date === 'string') return { ...edits, date: dateIn(old.date) };
  if ('year' in old) return { ...edits, date: yearText(old.year) };
  return old.date === null ? { ...edits, date: yearText(fileYear) } : edits;
}

/** The overlay of these edits and this picture, whatever their file contains. */
export function earlierOverlay(
  edits: OldValues,
  picture: ChosenPicture | null,
  chapters: readonly OldChapter[] | null = null,
  fileYear: unknown = null,
): Overlay {
  const fields = earlierEdits(edits, fileYear);
  return {
    ...(Object.keys(fields).length > 0 && { fields }),
    ...(picture && { pictures: { front: picture } }),
    ...(chapters && { chapters: chapters.map(earlierChapter) }),
  };
}

interface OldChapter {
  readonly startSeconds: number;
  readonly title: string;
}

const earlierChapter = ({ startSeconds, title }: OldChapter): Chapter => ({
  startSeconds,
  endSeconds: null,
  title,
  link: null,
});

/** The parts of an item in version 2 that became its content. */
export interface EarlierItem {
  readonly fileFields: OldValues;
  readonly edits: OldValues;
  readonly picture?: ChosenPicture | null;
  readonly chapters?: readonly OldChapter[] | null;
  readonly facts: {
    readonly pictures?: readonly (Omit<Content['pictures'][number], 'role'> & { readonly role: string })[];
    readonly chapters?: readonly OldChapter[];
  };
}

export function earlierContent(kept: EarlierItem): { file: Content; edits: Overlay } {
  const file: Content = {
    fields: earlierFields(kept.fileFields),
    pictures: (kept.facts.pictures ?? []).map((picture) => ({ ...picture, role: roleOfWords(picture.role) })),
    chapters: (kept.facts.chapters ?? []).map(earlierChapter),
  };
  const { edits, picture = null, chapters = null } = kept;
  return { file, edits: earlierOverlay(edits, picture, chapters, kept.fileFields.year) };
}

/**
 * The signature of an edited copy in its present form, so that it need not be copied again. Signatures of other files
 * have another form and stay.
 */
export function earlierSignature(signature: string): string {
  const parts = /^([^|]*\|\d+\|[\d.]+)\|(\{.*\})\|([^|]*)$/s.exec(signature);
  if (!parts) return signature;
  const [, original, edits = '{}', picture] = parts;
  const chosen = picture ? ({ id: picture } as ChosenPicture) : null;
  return `${original}|${contentHash(earlierOverlay(JSON.parse(edits) as OldValues, chosen))}`;
}
