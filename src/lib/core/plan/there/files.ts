import type { Fields } from '../../items';
import type { Owner } from '../owner';

/** The facts that identify a file. Null for unknown, which matches anything. */
export interface FileFacts {
  /** Bytes. */
  readonly size: number | null;
  /** SHA-256 in hexadecimal. */
  readonly digest: string | null;
}

/** Folder on a place below which runs keep files that they hold or are still writing. */
export const HOLD_FOLDER = '.lectorum-held';

/** Whether a file may be the one that is meant, judging by a listing. */
export function mayBe(file: FileFacts, meant: FileFacts): boolean {
  if (meant.size !== null && file.size !== meant.size) return false;
  return meant.digest === null || file.digest === null || file.digest === meant.digest;
}

/** A file as a player lists it. The digest is SHA-256 in hexadecimal, or null if the place keeps none. */
export interface ThereFile {
  readonly path: string;
  readonly size: number;
  readonly digest: string | null;
  /** Milliseconds since 1970; absent if the place does not report it. */
  readonly modified?: number;
  /** The content of its tags, if it was read because it had changed. */
  readonly says?: Fields;
  /** The content of a list, if it had changed. */
  readonly text?: string;
}

/** A file that both sides agree on: one that a run left there, or one that was found there and accepted. */
export interface PlacedFile {
  readonly path: string;
  /** Null if no run of ours wrote it and its owner is unknown. */
  readonly owner: Owner | null;
  readonly signature: string;
  readonly size: number;
  readonly digest: string | null;
  /** It was removed there and stays away: its item is not copied again. */
  readonly gone?: true;
  /** It stays at the path that it has on the player, whatever the rulebook says. */
  readonly kept?: true;
  /** It keeps the tags that it has on the player. */
  readonly theirs?: true;
  /** It was added on the player and taken into the library: it is not removed with its item. */
  readonly taken?: true;
}

/** A file that a run of ours left at a place and that a later run replaced, renamed or removed. */
export interface PastFile {
  /** Bytes. */
  readonly size: number;
  readonly digest: string;
  /** Milliseconds since 1970. */
  readonly until: number;
}

/** The key that identifies an earlier file. */
export const pastKey = ({ size, digest }: FileFacts): string => `${size} ${digest}`;

/** The facts that the player lists, completed by what was recorded. */
export const factsOf = ({ size, digest }: ThereFile, placed: PlacedFile | null): FileFacts => ({
  size,
  digest: digest ?? placed?.digest ?? null,
});
