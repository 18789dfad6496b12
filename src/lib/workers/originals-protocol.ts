import type { OriginalJob, OriginalsTakenBack } from '$lib/core/originals';
import type { FailureCode, RunEnd } from '$lib/core/run';

/** Action of a run that the library's storage has. */
export interface OriginalsRequest {
  readonly type: 'write' | 'takeBack';
  readonly id: number;
  readonly library: string;
  readonly run: string;
}

/** The file of an item with all that is said of it; nothing is written anywhere. */
export interface FinishedRequest {
  readonly type: 'finished';
  readonly id: number;
  readonly library: string;
  readonly job: OriginalJob;
}

/** The file, or why it cannot be made. */
export type FinishedResult =
  { readonly type: 'made'; readonly file: Blob } | { readonly type: 'failed'; readonly detail: string };

/** Told in the middle: the file under way is finished, the next does not begin. */
export interface CancelOriginals {
  readonly type: 'cancel';
}

/** Files ended so far. */
export type OriginalsPart = number;

export type OriginalsResult =
  | ({ readonly type: 'written' } & RunEnd)
  | ({ readonly type: 'takenBack' } & OriginalsTakenBack)
  | { readonly type: 'failed'; readonly code: FailureCode | 'elsewhere' | 'fault'; readonly detail: string };
