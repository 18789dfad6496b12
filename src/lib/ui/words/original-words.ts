import {
  PARTS,
  PART_NAMES,
  editedTracks,
  fieldText,
  requireField,
  type Content,
  type FieldName,
  type Item,
  type Overlay,
  type PartEdits,
  type PartName,
  type PictureRole,
  type Track,
} from '$lib/core/items';
import type { PartToPutBack, WhyNot } from '$lib/core/originals';
import type { FailureCode } from '$lib/core/run';
import { failureWords } from './run-words';
import { ROLE_WORDS } from './picture-words';
import { flagsWords } from './track-words';
import { drawn } from './value-words';

/** Why nothing is written into an original, and what would help. */
export const WHY_NOT: Readonly<Record<WhyNot, string>> = {
  browser: 'Lectorum only has a copy: take its folder in with “Choose a folder”',
  gone: 'it is no longer in its folder',
  locked: 'its tags are locked',
  format: 'tags of this format cannot be written',
  unheld: 'this format cannot store the change',
};

/** What helps where it is another thing for an original than for a copy on a player. */
const REMEDIES: Readonly<Partial<Record<FailureCode, string>>> = {
  gone: 'take its folder in again',
  notAllowed: 'check whether the file is write-protected',
  readBackDiffers: 'the file is unchanged; undo the changes to its fields',
  unreachable: 'choose its folder again',
};

/** Why an original was not written or not taken back, and what helps. */
export function troubleWords(
  code: FailureCode,
  detail: string,
): { readonly why: string; readonly remedy: string } {
  const words = failureWords(code, detail);
  return { ...words, remedy: REMEDIES[code] ?? words.remedy };
}

const text = (value: Parameters<typeof fieldText>[0]) => drawn(fieldText(value)) || 'empty';

/** What became of one thing that a run wrote, in a file that was changed after it. */
export function partWords(one: PartToPutBack): string {
  if (one.type === 'part') {
    const { label } = PARTS[one.part];
    return one.isOurs
      ? `${label}: as the run wrote them; can be put back`
      : `${label}: changed since, so kept`;
  }
  const { wrote, before, now, isOurs } = one;
  const name = requireField(one.field).label;
  if (!isOurs && text(now) === text(before)) return `${name}: ${text(now)}, as before the run`;
  return isOurs
    ? `${name}: ${text(now)}, as the run wrote it; ${text(before)} can be put back`
    : `${name}: ${text(now)}, changed since, so kept (the run wrote ${text(wrote)} over ${text(before)})`;
}

interface PartLine {
  readonly name: string;
  readonly now: string;
  readonly was: string;
}

/** What will be written of each part, a line for each thing, and what stood there. */
const LINES: {
  readonly [P in PartName]: (edit: PartEdits[P], file: Content) => readonly PartLine[];
} = {
  fields: (edits, file) =>
    (Object.keys(edits) as FieldName[]).map((name) => ({
      name: requireField(name).label,
      now: text(edits[name] ?? null),
      was: text(file.fields[name]),
    })),
  pictures: (pictures, file) =>
    (Object.keys(pictures) as PictureRole[]).map((role) => ({
      name: role === 'front' ? 'picture' : `picture, ${ROLE_WORDS[role]}`,
      now: pictures[role] === null ? 'none' : 'the chosen picture',
      was: file.pictures.some((picture) => picture.role === role) ? 'its own' : 'none',
    })),
  chapters: (chapters, file) => [
    { name: PARTS.chapters.label, now: String(chapters.length), was: String(file.chapters.length) },
  ],
  timed: (lines, { timed = [] }) => [
    { name: PARTS.timed.label, now: String(lines.length), was: String(timed.length) },
  ],
  tracks: (edits, file) =>
    edits.map((edit) => {
      const own = file.tracks?.find(({ id }) => id === edit.id);
      const now = editedTracks(file.tracks ?? [], [edit]).find(({ id }) => id === edit.id);
      const words = (track: Track | undefined) =>
        track
          ? [track.name, track.language, flagsWords(track)].filter(Boolean).join(', ') || 'empty'
          : 'none';
      return { name: `track ${edit.id}`, now: edit.isLeftOut ? 'left out' : words(now), was: words(own) };
    }),
};

/** What will be written into a file, part by part, and what stood there. */
export function partsOf({ file }: Item, overlay: Overlay): readonly PartLine[] {
  const linesOf = <P extends PartName>(name: P): readonly PartLine[] => {
    const edit: PartEdits[P] | undefined = overlay[name];
    return edit === undefined ? [] : LINES[name](edit, file);
  };
  return PART_NAMES.flatMap(linesOf);
}
