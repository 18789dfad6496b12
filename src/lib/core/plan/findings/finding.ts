import type { Edits, ItemId } from '../../items';
import type { Kind } from '../../kinds';
import type { PlayerChoices, WayApart } from '../choices';
import type { SideChoice } from '../there/sides';

export type Severity = 'blocks' | 'splits' | 'warns' | 'note';
export const SEVERITIES: readonly Severity[] = ['blocks', 'splits', 'warns', 'note'];

/** The remedy of a finding. The interface shows each type as a button with its own label. */
export type Remedy =
  | { readonly type: 'edit'; readonly changes: readonly { readonly item: ItemId; readonly edits: Edits }[] }
  | {
      readonly type: 'settleKind';
      readonly changes: readonly { readonly item: ItemId; readonly kind: Kind }[];
    }
  | { readonly type: 'describe' | 'identify'; readonly items: readonly ItemId[] }
  | { readonly type: 'squarePicture'; readonly items: readonly ItemId[] }
  /** Convert the files to a format that the player takes. */
  | { readonly type: 'makeTwins'; readonly items: readonly ItemId[] }
  | { readonly type: 'choose'; readonly add: Partial<PlayerChoices> }
  /** Mark these items, and all others of the same edition of their release. */
  | { readonly type: 'edition'; readonly items: readonly ItemId[]; readonly mark: string }
  /** Choose one of several ways. */
  | { readonly type: 'part'; readonly ways: Readonly<Partial<Record<WayApart, Partial<PlayerChoices>>>> }
  /** Choose one side for all of them. */
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

/** A finding of the check: what is wrong, where and why, and the remedy. */
export interface Finding {
  readonly id: string;
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly items: readonly ItemId[];
  /** Planned or source paths, for display. */
  readonly places: readonly string[];
  /** Values for the sentence, by name. */
  readonly words: Readonly<Record<string, string>>;
  readonly remedy: Remedy | null;
}
