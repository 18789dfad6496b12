import type { ByteSource } from '../bytes';
import type { ThereFile } from '../plan';

/** Why a store failed. The first three stop a run; the others fail only a step. */
export type StoreErrorCode =
  'unreachable' | 'full' | 'notAllowed' | 'refused' | 'exists' | 'gone' | 'unreadable';

export class StoreError extends Error {
  override readonly name = 'StoreError';
  constructor(
    readonly code: StoreErrorCode,
    readonly path: string,
    detail = '',
  ) {
    super(detail || code);
  }
}

export interface WrittenFile {
  /** Bytes. */
  readonly size: number;
  /** SHA-256 in hexadecimal of the bytes that were sent, taken while they went. */
  readonly digest: string;
}

/** Bytes of a place: total, used by files, and used by anything that is not listed. */
export interface TargetRoom {
  readonly room: number;
  readonly used: number;
  readonly others: number;
}

/**
 * How a place keeps the files that a run sets aside until it is accepted, and those being written until they are
 * checked. Names are defined by the store: files can be found, read, moved and removed under them, but they must not be
 * parsed.
 */
export interface Holding {
  /** Where a file is written and checked before it is moved to its path. Only one exists at a time. */
  stage(run: string, path: string): string;
  /** Where a run holds the file that was in the way of a step, by the step's number. */
  hold(run: string, step: number, path: string): string;
  /** The file under this name is no longer held: whatever only it needed is removed. */
  release(name: string): Promise<void>;
  /** Only files under these names are still held by a run: everything else is removed. */
  clear(run: string, held: readonly string[]): Promise<void>;
}

/**
 * The one narrow way to a place that takes a run: a chosen folder, a ZIP, a player over HTTP.
 * Paths use `/` and are relative to the place's root. Every method throws StoreError.
 */
export interface Store<Content> {
  /** Every file with its size, without hold folders. */
  list(): Promise<readonly ThereFile[]>;
  /** Bytes of the place; null if it does not report them. */
  room(): Promise<TargetRoom | null>;
  /** Files directly in one of our hidden folders; none if the folder does not exist. */
  listHeld(folder: string): Promise<readonly ThereFile[]>;
  makeFolder(path: string): Promise<void>;
  hasFolder(path: string): Promise<boolean>;
  /** Puts a file there whole or not at all, folders included. Refuses (`exists`) to write over one. */
  write(path: string, content: Content): Promise<WrittenFile>;
  /** Renames a file. Throws `exists` if the target exists, and `gone` if the file does not. */
  move(from: string, to: string): Promise<void>;
  remove(path: string): Promise<void>;
  /** Removes a folder if it is empty; otherwise does nothing. */
  removeEmptyFolder(path: string): Promise<void>;
  /** The file's facts, or null when it is not there. */
  find(path: string): Promise<ThereFile | null>;
  /** The file's bytes, for reading back what was written. */
  read(path: string): Promise<ByteSource>;
  /** Absent if it holds files in hidden folders of its own. */
  readonly holding?: Holding;
}
