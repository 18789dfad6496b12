import type { Edits, ItemId } from '../../items';
import type { Kind } from '../../kinds';
import type { PlayerChoices, WayApart } from '../choices';
import type { SideChoice } from '../there/sides';

export type Severity = 'blocks' | 'splits' | 'warns' | 'note';
export const SEVERITIES: readonly Severity[] = ['blocks', 'splits', 'warns', 'note'];

/** What mends a finding. The interface turns it into a button with a name of its own. */
export type Remedy =
  | { readonly type: 'edit'; readonly changes: readonly { readonly item: ItemId; readonly edits: Edits }[] }
  | {
      readonly type: 'settleKind';
      readonly changes: readonly { readonly item: ItemId; readonly kind: Kind }[];
    }
  | { readonly type: 'describe' | 'identify'; readonly items: readonly ItemId[] }
  | { readonly type: 'squarePicture'; readonly items: readonly ItemId[] }
  /** Files that the player takes are to be made of theirs. */
  | { readonly type: 'makeTwins'; readonly items: readonly ItemId[] }
  | { readonly type: 'choose'; readonly add: Partial<PlayerChoices> }
  /** These, and all that belong to the same edition of their release, get a mark. */
  | { readonly type: 'edition'; readonly items: readonly ItemId[]; readonly mark: string }
  /** One of several ways is to be chosen. */
  | { readonly type: 'part'; readonly ways: Readonly<Partial<Record<WayApart, Partial<PlayerChoices>>>> }
  /** One side is to be chosen for all of them. */
  | { readonly type: 'decide'; readonly files: readonly Omit<SideChoice, 'side'>[] };

export type FindingCode =
  | 'unknownItem'
  | 'missingField'
  | 'needsTwin'
  | 'noRoom'
  | 'oddValue'
  | 'kindOpen'
  | 'kindGuess'
  | 'noSection'
  | 'formatRefused'
  | 'nameMended'
  | 'nameTooLong'
  | 'pathTooLong'
  | 'endingTooLong'
  | 'folderFull'
  | 'shownAlike'
  | 'writtenLate'
  | 'collision'
  | 'twoEditions'
  | 'occupied'
  | 'folderThere'
  | 'failedBefore'
  | 'changedThere'
  | 'changedBoth'
  | 'changedUnwanted'
  | 'removedThere'
  | 'removedBoth'
  | 'movedThere'
  | 'addedThere'
  | 'staysAway'
  | 'keptThere'
  | 'splitAlbum'
  | 'tagVersion'
  | 'sidecarMismatch'
  | 'besideMismatch'
  | 'cannotWrite'
  | 'cannotHold'
  | 'noPicture'
  | 'pictureShape'
  | 'listChanged'
  | 'listRemoved'
  | 'listAway'
  | 'listTooLong'
  | 'listOccupied';

/** One thing that the check found: what, where, why, and how to mend it. */
export interface Finding {
  readonly id: string;
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly items: readonly ItemId[];
  /** Planned or source paths, for the reader. */
  readonly places: readonly string[];
  /** Words for the sentence, by name. */
  readonly words: Readonly<Record<string, string>>;
  readonly remedy: Remedy | null;
}
