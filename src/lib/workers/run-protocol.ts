import type { TargetAddress } from '$lib/io/stores/store-of';
import type { TargetId } from '$lib/core/library';
import type { FailureCode, RunEnd, TakenBack } from '$lib/core/run';

interface Addressed {
  readonly library: string;
  readonly target: TargetId;
  readonly at: TargetAddress;
}

/** The journal itself is not sent: the worker finds it in the library's storage, where it also goes on. */
export type RunRequest = {
  readonly type: 'apply' | 'takeBack' | 'takeAsGood';
  readonly id: number;
  /** The last one at the target unless told. */
  readonly run?: string;
} & Addressed;

/** Told in the middle: the step under way is finished, the next does not begin. */
export interface CancelRun {
  readonly type: 'cancel';
}

/** Steps ended so far. */
export type RunPart = number;

export type RunResult =
  | ({ readonly type: 'applied' } & RunEnd)
  | ({ readonly type: 'takenBack' } & TakenBack)
  | { readonly type: 'good' }
  | { readonly type: 'failed'; readonly code: FailureCode | 'fault' | 'elsewhere'; readonly detail: string };
