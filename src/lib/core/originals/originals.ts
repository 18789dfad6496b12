import type { ByteSource } from '../bytes';
import type { Fields, FormatId, ItemId, Overlay, SourceId } from '../items';
import type { Kind } from '../kinds';
import type { FailureCode } from '../run';
import type { Span } from '../bytes';
import type { FileChange } from './change';

/** One original into which its item's description is written. */
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
  /** The kind for its tags, for programs that use it. */
  readonly kind?: Kind;
  /** The file's own values before that, which a partial take-back can restore. Without pictures. */
  readonly before: Overlay;
  /** Edits that the item gets again after writing, because this takes part of an earlier run back. */
  readonly again?: Overlay;
  /** All fields that must be read back afterwards. */
  readonly expect: Fields;
}

/** The properties by which a file is recognised. */
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
      /** Why taking back left it as it is; absent if that was not tried. */
      readonly left?: FailureCode;
    } & OriginalTraces)
  | { readonly type: 'failed'; readonly code: FailureCode; readonly detail: string }
  | { readonly type: 'undone' };

/** An open file. */
export interface OpenOriginal {
  readonly bytes: ByteSource;
  /** Milliseconds since 1970. */
  readonly modified: number;
}

/** @throws {StepError} `changedSince` when another hand changed the file since the change was made from it */
export type Guard = (now: OpenOriginal) => Promise<void>;

/** Where originals are. All methods throw StoreError, and StepError for a file that cannot be read. */
export interface OriginalPlace {
  open(job: OriginalJob): Promise<OpenOriginal>;
  /**
   * Replaces the file's content: at every moment it is wholly the old or the new one.
   * @param guard is called with the current file right before it is replaced. If it throws, the file stays as it is.
   */
  write(job: OriginalJob, change: FileChange, guard: Guard): Promise<void>;
}

/** What writing needs apart from the place. */
export interface OriginalEffects {
  /** @throws {StepError} when it cannot be written into the file */
  rewrite(job: OriginalJob, original: ByteSource): Promise<readonly Span[]>;
  /** Reads the bytes that will be written. @throws {StepError} if they do not contain what they should */
  check(job: OriginalJob, original: ByteSource, changed: ByteSource): Promise<void>;
  digest(source: ByteSource): Promise<string>;
  /** Records an outcome. Nothing is changed before this resolves. */
  save(index: number, outcome: OriginalOutcome): Promise<void>;
  /** Called after each with how many have ended. */
  progress(ended: number): void;
  isCancelled(): boolean;
}
