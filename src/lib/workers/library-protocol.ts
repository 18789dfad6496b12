import type { Gathering } from '$lib/core/identify';
import type { Item, ItemId } from '$lib/core/items';
import type { PlayerId, TargetId } from '$lib/core/library';
import type { Resolved } from '$lib/core/list-files';
import type { ListDigest, ListId, ListWishes } from '$lib/core/lists';
import type { Permission, PlacedFile, PlanInput, Severity } from '$lib/core/plan';
import type { Rulebook } from '$lib/core/rulebooks';
import { type TargetRoom, type Journal } from '$lib/core/run';
import type { Twin } from '$lib/core/twins';
import type { TargetAddress } from '$lib/io/stores/store-of';

/**
 * The library worker keeps a mirror of the items, gathers them, and keeps what lies at each player and a plan for it.
 * The page is told what a screen shows of them.
 */
export type LibraryRequest = { readonly id: number } &
  /** Takes the items as the browser keeps them, in place of those that are known. */
  (
    | { readonly type: 'load'; readonly library: string }
    | { readonly type: 'forget' }
    | { readonly type: 'items'; readonly changed: readonly Item[]; readonly removed: readonly ItemId[] }
    | { readonly type: 'gather' }
    /** All twins that some items have. */
    | { readonly type: 'twins'; readonly changed: readonly TwinsOf[] }
    /** What lists come to. */
    | { readonly type: 'lists'; readonly wishes: ListsTold }
    /** What is in one of them. */
    | { readonly type: 'listed'; readonly list: ListId }
    /** Reads a list file, and finds the items that its entries mean. */
    | { readonly type: 'readList'; readonly path: string; readonly bytes: ArrayBuffer }
    | { readonly type: 'listsOf'; readonly item: ItemId }
    | { readonly type: 'whyListed'; readonly list: ListId; readonly item: ItemId }
    | ({ readonly player: PlayerId } & OfPlayer)
  );

/** What lists go by, as the page tells it. */
export type ListsTold = Omit<ListWishes, 'playsOn'> & {
  /** Rulebooks of all players, by their names. */
  readonly rulebooks?: readonly (readonly [name: string, rulebook: Rulebook])[];
};

/** What lists come to. */
export interface ToldLists {
  readonly digests: readonly ListDigest[];
  /** False where some are still to be made: they are told when lists are asked for again. */
  readonly isWhole: boolean;
}

/** What a list file says, entry by entry. */
export interface ListOfFile {
  readonly name: string;
  readonly resolved: readonly Resolved[];
}

/** The twins of an item. */
export type TwinsOf = readonly [item: ItemId, twins: readonly Twin[]];

/** Gatherings that are new or not what they were. */
export type GatheredPart = readonly Gathering[];

type OfPlayer =
  /** Lists the place afresh. Null for one that is not chosen yet. */
  | ({ readonly type: 'look' } & Omit<LookRequest, 'player'>)
  /** What both sides agreed on, and when, in milliseconds since 1970. */
  | { readonly type: 'base'; readonly placed: readonly PlacedFile[]; readonly since: number | null }
  | { readonly type: 'plan'; readonly wishes: PlanWishes }
  | { readonly type: 'nodes'; readonly key: string }
  | { readonly type: 'about'; readonly items: readonly ItemId[] }
  | { readonly type: 'finding' | 'sides'; readonly finding: string }
  | { readonly type: 'itemsOf'; readonly finding: string; readonly most: number }
  | {
      readonly type: 'findings';
      readonly severity: Severity | null;
      readonly from: number;
      readonly to: number;
    }
  /** Top folders that are to have a picture of their own. */
  | { readonly type: 'topFolders' }
  /** What comes from the player before a run. */
  | { readonly type: 'comes' }
  | ({ readonly type: 'begin' } & Omit<PlanStart, 'player'>)
  /** Holds the player's own scan against the plan's rehearsal. */
  | { readonly type: 'prove'; readonly device: string };

/** What is to be listed: null for a place that is not chosen yet. */
export interface LookRequest {
  readonly player: PlayerId;
  readonly target: TargetAddress | null;
  readonly kept: KeptPlace | null;
  /** Others' files that the curator gave free: a look tells whether they are the same still. */
  readonly permissions: readonly Permission[];
}

/** What a plan is made from beside what the worker knows. */
export type PlanWishes = Pick<
  PlanInput,
  'rulebook' | 'choices' | 'policy' | 'selection' | 'failed' | 'token'
> & {
  /** Only what a list of several players shows is told. */
  readonly isBrief: boolean;
};

/** Writes the journal of a run that is to begin: the steps never pass the page. */
export interface PlanStart {
  readonly player: PlayerId;
  /** Of the plan that the curator saw. */
  readonly token: string;
  readonly library: string;
  readonly target: TargetId;
  readonly journal: Pick<Journal, 'id' | 'startedAt' | 'took'>;
  /** Only what removes nothing. */
  readonly isMild: boolean;
}

/** Where what a place listed is kept, for when it does not answer. */
export interface KeptPlace {
  readonly library: string;
  readonly target: TargetId;
  /** A tab that only looks on keeps nothing. */
  readonly mayWrite: boolean;
}

/** What came of looking at a place. */
export type LookResult =
  /** `since` says when all of it was first listed as it lies there now, in milliseconds since 1970. */
  | { readonly type: 'listed'; readonly room: TargetRoom | null; readonly since: number }
  | { readonly type: 'unchosen' }
  /** `seenAt` says when it last answered, in milliseconds since 1970; null where it never did: then it counts as we left it. */
  | {
      readonly type: 'away';
      readonly why: string;
      readonly seenAt: number | null;
      readonly room: TargetRoom | null;
    };
