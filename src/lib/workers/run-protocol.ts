import type { Place } from '$lib/core/library';
import type { FailureCode, RunEnd, TakenBack } from '$lib/core/run';

/** Where a run's store is. */
export type RunTarget =
  | { readonly type: 'attic' }
  | { readonly type: 'folder'; readonly handle: FileSystemDirectoryHandle }
  | { readonly type: 'zip'; readonly name: string };

interface Addressed {
  readonly library: string;
  readonly place: Place;
  readonly target: RunTarget;
}

/** The journal itself is not sent: the worker finds it in the library's storage, where it also goes on. */
export type RunRequest =
  | ({ readonly type: 'apply' } & Addressed)
  | ({ readonly type: 'takeBack' } & Addressed)
  | ({ readonly type: 'takeAsGood' } & Addressed)
  | { readonly type: 'cancel' };

export type RunReply =
  | { readonly type: 'progress'; readonly ended: number }
  | ({ readonly type: 'applied' } & RunEnd)
  | ({ readonly type: 'takenBack' } & TakenBack)
  | { readonly type: 'good' }
  | { readonly type: 'failed'; readonly code: FailureCode | 'fault' | 'elsewhere'; readonly detail: string };
