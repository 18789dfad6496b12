import type { ByteSource } from '../bytes';
import type { Fields, FormatId, ItemId, Overlay, SourceId } from '../items';
import type { Kind } from '../kinds';
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
  /** What will be written into it. */
  readonly changes: Overlay;
  /** What it is told to be, for programs that go by that. */
  readonly kind?: Kind;
  /** What the file says of that before: what taking it back in part can put back. Pictures are not among it. */
  readonly before: Overlay;
  /** What is said of the item again once this is written, since it takes an earlier run back in part. */
  readonly again?: Overlay;
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
}

/**
 * How far one original came. `begun`: the way back is kept, and from here on the file changes; a cut leaves it so.
 * `undone`: it is as it was.
 */
export type OriginalOutcome =
  | ({
      readonly type: 'begun' | 'done';
      /** Why taking it back left it as it is; absent where that was not tried. */
      readonly left?: FailureCode;
    } & OriginalTraces)
  | { readonly type: 'failed'; readonly code: FailureCode; readonly detail: string }
  | { readonly type: 'undone' };

/** A file as it lies there. */
export interface OpenOriginal {
  readonly bytes: ByteSource;
  /** Milliseconds since 1970. */
  readonly modified: number;
}

/** @throws {StepError} `changedSince` when another hand changed the file since the change was made from it */
export type Guard = (now: OpenOriginal) => Promise<void>;

/** Where originals lie. All methods throw StoreError, and StepError for a file that cannot be read. */
export interface OriginalPlace {
  open(job: OriginalJob): Promise<OpenOriginal>;
  /**
   * Makes the file another one: at every point it is wholly the old or the new one.
   * @param guard is called with the file as it stands, right before the new one takes its place. Where it throws, the
   * file stays as it is.
   */
  write(job: OriginalJob, change: FileChange, guard: Guard): Promise<void>;
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
