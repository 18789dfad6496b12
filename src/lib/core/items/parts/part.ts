import type { ChosenPicture } from '../pictures';
import type { Content, PartEdits, PartName, PutBack, Saying } from '../saying';

/** What a file says once it is read back by the rows that wrote it. Pictures are told by their digests. */
export type ReadBack = Omit<Content, 'pictures'>;

/**
 * One part of an item's content, and all that is done with what is said of it. An edit is never empty: where nothing is
 * left to say, it is undefined.
 */
export interface Part<P extends PartName = PartName, E = PartEdits[P]> {
  /** As it stands in a sentence. */
  readonly label: string;
  /** Clean, and without what says the same as the file. */
  trim(file: Content, edit: E): E | undefined;
  same(a: E, b: E): boolean;
  /** One over another: what the second says stands. */
  lay(under: E | undefined, over: E): E;
  /** Without some of it, as if that had never been edited. */
  less(edit: E, what: NonNullable<PutBack[P]>): E | undefined;
  /** Equal for edits that would write the same. */
  key(edit: E): unknown;
  /** What the file says where this says something; undefined where no edit can say that. */
  inFile(file: Content, edit: E): E | undefined;
  /** What of it a file does not say already, as far as its tags tell one value from another. */
  unsaid(file: Content, edit: E): E | undefined;
  /** Whether what was read back says all of it, as far as tags tell. */
  isSaid(edit: E, found: ReadBack): boolean;
  /** What is left to say once this was written into the file. Formats round: it is told by what was said, not by what is read. */
  written(edit: E, written: E): E | undefined;
  /** What is said of an item whose file is another one by now, once a change that was made before is made to it. */
  carry(current: Saying, before: Saying, after: Saying): E | undefined;
  /** Pictures of the library that it needs. */
  chosen(edit: E): readonly ChosenPicture[];
}

/** What a part that is said as a whole has of its own. */
interface Whole<P extends PartName> extends Pick<
  Part<P>,
  'label' | 'same' | 'key' | 'isSaid' | 'unsaid' | 'chosen'
> {
  /** As it is shown and written. */
  readonly of: (saying: Saying) => PartEdits[P];
  /** As the file has it. */
  readonly own: (file: Content) => PartEdits[P];
  readonly clean: (edit: PartEdits[P]) => PartEdits[P];
}

/** A part that is said as a whole: another list takes the place of the file's. */
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
