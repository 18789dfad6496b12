import type { ByteSource } from '../bytes';
import type { Fields, FormatId, ItemId, Overlay, SourceId } from '../items';
import type { FailureCode } from '../run';
import type { Span } from '../bytes';
import type { FileChange } from './change';

/** One original that is to say what its item says. */
export interface OriginalJob {
  readonly item: ItemId;
  readonly source: SourceId;
  readonly path: string;
  /** Bytes, and milliseconds since 1970, as it was taken in: another file is left alone. */
  readonly size: number;
  readonly modified: number;
  readonly format: FormatId;
  /** What is written into it. */
  readonly changes: Overlay;
  /** All that it is to say afterwards. */
  readonly expect: Fields;
}

/** What a file is told by. */
export interface FileState {
  /** Bytes. */
  readonly size: number;
  /** SHA-256 in hexadecimal. */
  readonly digest: string;
}

/** How a file was changed, and the way back. */
export interface OriginalTraces {
  readonly was: FileState;
  readonly put: FileState;
  /** Spans of the changed file that describe the one before. */
  readonly back: readonly Span[];
  /** It is written over in places: a cut may leave a file that is neither the one nor the other. */
  readonly inPlace: boolean;
}

/**
 * How far one original came. `begun`: the way back is kept, and from here on the file changes; a cut leaves it so.
 * `undone`: it is as it was.
 */
export type OriginalOutcome =
  | ({ readonly type: 'begun' | 'done' } & OriginalTraces)
  | { readonly type: 'failed'; readonly code: FailureCode; readonly detail: string }
  | { readonly type: 'undone' };

/** Where originals lie. All methods throw StoreError. */
export interface OriginalPlace {
  open(job: OriginalJob): Promise<{ readonly bytes: ByteSource; readonly modified: number }>;
  /** Makes the file another one. One that is written anew is the old or the new one at every point. */
  write(job: OriginalJob, change: FileChange): Promise<void>;
}

/** What writing needs of the world beside the place. */
export interface OriginalEffects {
  /** @throws {StepError} when it cannot be written into the file */
  rewrite(job: OriginalJob, original: ByteSource): Promise<readonly Span[]>;
  /** Reads what is about to be written. @throws {StepError} when it does not say what it should */
  check(job: OriginalJob, original: ByteSource, changed: ByteSource): Promise<void>;
  digest(source: ByteSource): Promise<string>;
  /** Keeps what came of one; nothing is changed before this resolved. */
  save(index: number, outcome: OriginalOutcome): Promise<void>;
  /** Called after each with how many have ended. */
  progress(ended: number): void;
  isCancelled(): boolean;
}
