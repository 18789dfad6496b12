import type { ChosenPicture, Edits, Fields, FormatId, ItemId, Overlay, SourceId } from '../items';
import type { Kind } from '../kinds';
import type { Permission } from './permission';
import type { PlanPicture } from './plan-item';

/** Where an original lies, and how many bytes it had when the run was planned. */
export interface Original {
  readonly source: SourceId;
  readonly path: string;
  readonly size: number;
}

/**
 * One act on a player. A run sheet is a list of them in order; nothing is written until it is applied.
 * `replaces` and `was` say what the plan saw at a path: a run that finds something else there leaves it alone.
 */
export type Step =
  /**
   * Nothing is written: both sides agree on what lies at a path, or that nothing does, and it is noted as what we left
   * there. `from` is the path that it was noted under; a null record forgets it.
   */
  | {
      readonly type: 'agree';
      readonly path: string;
      readonly from: string;
      readonly was: FileFacts | null;
      readonly record: PlacedFile | null;
    }
  | { readonly type: 'makeFolder'; readonly path: string }
  | {
      readonly type: 'copy';
      readonly path: string;
      readonly item: ItemId;
      readonly original: Original;
      readonly format: FormatId;
      /** What is written into the copy; null when it goes out unchanged. */
      readonly changes: Overlay | null;
      /** What the copy must say when it is read back; null when it goes out unchanged. */
      readonly expect: Fields | null;
      readonly replaces: FileFacts | null;
      readonly signature: string;
      /** It goes where the player has it, whatever the rulebook calls it. */
      readonly kept?: true;
      /** What its tags are to name it as, for programs that go by that. */
      readonly kind?: Kind;
      /** The version of ID3v2 that its tag is brought to. */
      readonly id3?: 3;
    }
  | {
      readonly type: 'writePicture';
      readonly path: string;
      readonly item: ItemId;
      readonly original: Original;
      readonly picture: PlanPicture;
      readonly replaces: FileFacts | null;
      readonly signature: string;
    }
  | {
      readonly type: 'writeText';
      readonly path: string;
      /** The item that it goes with. */
      readonly item: ItemId;
      readonly mime: string;
      readonly text: string;
      readonly replaces: FileFacts | null;
      readonly signature: string;
    }
  | {
      readonly type: 'move';
      readonly from: string;
      readonly path: string;
      readonly item: ItemId | null;
      /** What is to be moved. */
      readonly was: FileFacts;
      readonly replaces: FileFacts | null;
      readonly signature: string;
    }
  | { readonly type: 'remove'; readonly path: string; readonly was: FileFacts };

/** What a file is told by. Null where it is not known; then anything matches. */
export interface FileFacts {
  /** Bytes. */
  readonly size: number | null;
  /** SHA-256 in hexadecimal. */
  readonly digest: string | null;
}

/** Folder on a place below which runs keep what they hold aside and what is on its way. */
export const HOLD_FOLDER = '.lectorum-held';

/** Whether a file may be the one that is meant, as far as a listing tells. */
export function mayBe(file: FileFacts, meant: FileFacts): boolean {
  if (meant.size !== null && file.size !== meant.size) return false;
  return meant.digest === null || file.digest === null || file.digest === meant.digest;
}

export type StepType = Step['type'];
export const STEP_TYPES: readonly StepType[] = [
  'agree',
  'makeFolder',
  'copy',
  'writePicture',
  'writeText',
  'move',
  'remove',
];

/** A file as a player lists it. The digest is SHA-256 in hexadecimal, or null where the place keeps none. */
export interface ThereFile {
  readonly path: string;
  readonly size: number;
  readonly digest: string | null;
  /** Milliseconds since 1970; absent where the place tells none. */
  readonly modified?: number;
  /** What its tags say, where it was looked into because another hand had changed it. */
  readonly says?: Fields;
}

/** What both sides agree on of one file: what a run left there, or what was found there and taken as good. */
export interface PlacedFile {
  readonly path: string;
  readonly item: ItemId | null;
  readonly signature: string;
  readonly size: number;
  readonly digest: string | null;
  /** It was removed there, and stays away: its item is not put there again. */
  readonly gone?: true;
  /** It lies where the player has it, whatever the rulebook calls it. */
  readonly kept?: true;
  /** It says what the player has it say, whatever we would write there. */
  readonly theirs?: true;
  /** Another hand put it there, and it was taken into the library: it is not removed when its item leaves. */
  readonly taken?: true;
}

/** A file that a run of ours left at a place, and that a later one replaced, renamed or removed. */
export interface PastFile {
  /** Bytes. */
  readonly size: number;
  readonly digest: string;
  /** When that was, in milliseconds since 1970. */
  readonly until: number;
}

/** What files that lay there earlier are known by. */
export const pastKey = ({ size, digest }: FileFacts): string => `${size} ${digest}`;

/** Which side counts where what lies there is not what we left: the library's, or the player's. */
export type Side = 'here' | 'there';

/** Who decides that, where the curator said nothing of a file: the library, both where only one changed, or nobody. */
export const SYNC_POLICIES = ['leads', 'both', 'ask'] as const;
export type SyncPolicy = (typeof SYNC_POLICIES)[number];

/** What the curator decided of one file that is not as we left it. */
export interface SideChoice {
  /** Where we left it; of a file that was added, where it lies. */
  readonly path: string;
  /** What was found of it, null for nothing: what is found later may be something else. */
  readonly was: FileFacts | null;
  readonly side: Side;
}

/** What the player lists of a file, and what we remember of it where the player says nothing. */
export const factsOf = ({ size, digest }: ThereFile, placed: PlacedFile | null): FileFacts => ({
  size,
  digest: digest ?? placed?.digest ?? null,
});

/** A step of the last run that failed, and would be done again: the finding about it says why. */
export interface FailedStep {
  readonly path: string;
  /** Why, in the words of runs. */
  readonly code: string;
  readonly detail: string;
}

/** What a curator decided for one player beyond its rulebook. */
export interface PlayerChoices {
  /** Foreign files that may be replaced (the old one is held until the run is taken as good). */
  readonly replace: readonly Permission[];
  readonly leftOut: readonly ItemId[];
  /** Items whose too long names are shortened by rule. */
  readonly shorten: readonly ItemId[];
  /** What is put behind the names of items, since others have the same: a number, or what tells them apart. */
  readonly suffixes: readonly { readonly item: ItemId; readonly text: string }[];
  /** Foreign files on the player to be renamed. */
  readonly renames: readonly (Permission & { readonly to: string })[];
  readonly sides: readonly SideChoice[];
  /** Pictures of top folders, by the paths of their files, in place of those that albums would give them. */
  readonly pictures: readonly { readonly path: string; readonly picture: ChosenPicture }[];
}

export const NO_CHOICES: PlayerChoices = {
  replace: [],
  leftOut: [],
  shorten: [],
  suffixes: [],
  renames: [],
  sides: [],
  pictures: [],
};

/** Ways out where several items would get one name: each a number, each its mark, or the better one alone. */
export const WAYS_APART = ['mark', 'number', 'better'] as const;
export type WayApart = (typeof WAYS_APART)[number];

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
  | 'pictureShape';

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
