import type { ByteSource } from '../bytes';
import type { ThereFile } from '../plan';

/** Why a store could not do what it was asked. The first three stop a run, others only a step. */
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

/** Bytes of a place: all of them, those that files take, and those that are taken by what is not listed. */
export interface TargetRoom {
  readonly room: number;
  readonly used: number;
  readonly others: number;
}

/**
 * How a place keeps what a run puts aside until that is taken as good, and what is written until it is proven. Names are
 * the store's own: whoever gets one finds, reads, moves and removes what is there under it, and never takes it apart.
 */
export interface Holding {
  /** Where a file for a path is written and proven before it gets its place. One at a time is there. */
  stage(run: string, path: string): string;
  /** Where a run holds what stood in the way of one of its steps, told by its number. */
  hold(run: string, step: number, path: string): string;
  /** Nothing is held under this name any more: what only it needed goes. */
  release(name: string): Promise<void>;
  /** Nothing of a run is held any more but, for now, under these names: what nobody needs goes. */
  clear(run: string, held: readonly string[]): Promise<void>;
}

/**
 * The one narrow way to a place that takes a run: a chosen folder, a ZIP, a player over HTTP.
 * Paths use `/` and are relative to the place's root. Every method throws StoreError.
 */
export interface Store<Content> {
  /** Every file with its size; what lies in hold folders is left out. */
  list(): Promise<readonly ThereFile[]>;
  /** Bytes of the place, where it tells of them; null for one that does not. */
  room(): Promise<TargetRoom | null>;
  /** Files right in a folder of the hidden ones that are ours: none where there is no such folder. */
  listHeld(folder: string): Promise<readonly ThereFile[]>;
  makeFolder(path: string): Promise<void>;
  hasFolder(path: string): Promise<boolean>;
  /** Puts a file there whole or not at all, folders included. Refuses (`exists`) to write over one. */
  write(path: string, content: Content): Promise<WrittenFile>;
  /** Renames a file. Refuses (`exists`) to move over one, and says `gone` when there is none. */
  move(from: string, to: string): Promise<void>;
  remove(path: string): Promise<void>;
  /** Removes a folder if nothing is in it; says nothing otherwise. */
  removeEmptyFolder(path: string): Promise<void>;
  /** The file's facts, or null when it is not there. */
  find(path: string): Promise<ThereFile | null>;
  /** The file's bytes, to read back what was written. */
  read(path: string): Promise<ByteSource>;
  /** Absent where it holds in hidden folders of its own. */
  readonly holding?: Holding;
}
