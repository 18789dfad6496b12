import type { ChosenPicture } from '../pictures';
import type { Content, PartEdits, PartName, PutBack, Saying } from '../saying';

/** The content of a file that was read back after writing. Pictures are compared by digest. */
export type ReadBack = Omit<Content, 'pictures'>;

/**
 * One part of an item's content, with all operations on its edits. An edit is never empty: if nothing is left of it, it
 * is undefined.
 */
export interface Part<P extends PartName = PartName, E = PartEdits[P]> {
  /** Its name within a sentence. */
  readonly label: string;
  /** Clean, and without what equals the file. */
  trim(file: Content, edit: E): E | undefined;
  same(a: E, b: E): boolean;
  /** One edit over another: values of the second win. */
  lay(under: E | undefined, over: E): E;
  /** Without some of it, as if that had never been edited. */
  less(edit: E, what: NonNullable<PutBack[P]>): E | undefined;
  /** Equal for edits that write the same. */
  key(edit: E): unknown;
  /** The file's own values of what the edit changes; undefined if no edit can hold them. */
  inFile(file: Content, edit: E): E | undefined;
  /** The part of the edit that the file does not contain already, as far as tags can tell. */
  unsaid(file: Content, edit: E): E | undefined;
  /** Whether the file that was read back contains all of the edit, as far as tags can tell. */
  isSaid(edit: E, found: ReadBack): boolean;
  /**
   * The edit that remains after this was written into the file. Formats round, so this compares with what was written
   * rather than with what is read.
   */
  written(edit: E, written: E): E | undefined;
  /** A change made to an earlier state of an item, as an edit of its present state, whose file may differ. */
  carry(current: Saying, before: Saying, after: Saying): E | undefined;
  /** Pictures of the library that the edit uses. */
  chosen(edit: E): readonly ChosenPicture[];
}

/** The specifics of a part that is always edited as a whole. */
interface Whole<P extends PartName> extends Pick<
  Part<P>,
  'label' | 'same' | 'key' | 'isSaid' | 'unsaid' | 'chosen'
> {
  /** The part as it is shown and written. */
  readonly of: (saying: Saying) => PartEdits[P];
  /** The part as the file has it. */
  readonly own: (file: Content) => PartEdits[P];
  readonly clean: (edit: PartEdits[P]) => PartEdits[P];
}

/** A part that is always edited as a whole: another list replaces that of the file. */
export function wholePart<P extends 'chapters' | 'timed'>(
  name: P,
  { of, own, clean, same, ...rest }: Whole<P>,
): Part<P> {
  return {
    ...rest,
    same,
    trim: (file, edit) => {
      const cleaned = clean(edit);
      return same(cleaned, own(file)) ? undefined : cleaned;
    },
    lay: (_, over) => over,
    less: (edit, what) => (what ? undefined : edit),
    inFile: own,
    written: (edit, written) => (same(edit, written) ? undefined : edit),
    carry: (current, before, after) => {
      const next = of(after);
      return same(of(before), next) ? current.edits[name] : next;
    },
  };
}
