import type { Fields } from '../../items';
import type { Owner } from '../owner';

/** What a file is told by. Null where it is not known; then anything matches. */
export interface FileFacts {
  /** Bytes. */
  readonly size: number | null;
  /** SHA-256 in hexadecimal. */
  readonly digest: string | null;
}

/** Folder on a place below which runs keep what they hold aside and what is on its way. */
export const HOLD_FOLDER = '.lectorum-held';

/** Whether a file may be the one that is meant, as far as a listing tells. */
export function mayBe(file: FileFacts, meant: FileFacts): boolean {
  if (meant.size !== null && file.size !== meant.size) return false;
  return meant.digest === null || file.digest === null || file.digest === meant.digest;
}

/** A file as a player lists it. The digest is SHA-256 in hexadecimal, or null where the place keeps none. */
export interface ThereFile {
  readonly path: string;
  readonly size: number;
  readonly digest: string | null;
  /** Milliseconds since 1970; absent where the place tells none. */
  readonly modified?: number;
  /** What its tags say, where it was looked into because another hand had changed it. */
  readonly says?: Fields;
  /** What a list says, where another hand had changed it. */
  readonly text?: string;
}

/** What both sides agree on of one file: what a run left there, or what was found there and taken as good. */
export interface PlacedFile {
  readonly path: string;
  /** Null for what no run of ours made and nobody is known to own. */
  readonly owner: Owner | null;
  readonly signature: string;
  readonly size: number;
  readonly digest: string | null;
  /** It was removed there, and stays away: its item is not put there again. */
  readonly gone?: true;
  /** It lies where the player has it, whatever the rulebook calls it. */
  readonly kept?: true;
  /** It says what the player has it say, whatever we would write there. */
  readonly theirs?: true;
  /** Another hand put it there, and it was taken into the library: it is not removed when its item leaves. */
  readonly taken?: true;
}

/** A file that a run of ours left at a place, and that a later one replaced, renamed or removed. */
export interface PastFile {
  /** Bytes. */
  readonly size: number;
  readonly digest: string;
  /** When that was, in milliseconds since 1970. */
  readonly until: number;
}

/** What files that lay there earlier are known by. */
export const pastKey = ({ size, digest }: FileFacts): string => `${size} ${digest}`;

/** What the player lists of a file, and what we remember of it where the player says nothing. */
export const factsOf = ({ size, digest }: ThereFile, placed: PlacedFile | null): FileFacts => ({
  size,
  digest: digest ?? placed?.digest ?? null,
});
