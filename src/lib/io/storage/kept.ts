/**
 * What a library keeps in the browser: a database for each kind of record, and the version of what is in it. Raise a
 * version with a migration where the record is read; where its reader says that another version is as good as none, that
 * is its migration.
 */
export const KEPT = {
  /** The head (whose version is the library's own), items by the hundreds, parts of the head, a stamp and a name. */
  library: { version: 1 },
  /** What is said of items, 25 to a record, which has a version of its own (`core/library/kept-record.ts`). */
  said: { version: 1 },
  /** What both sides agreed on at each target, 500 files to a record, and files that lay there earlier. */
  bases: { version: 1 },
  /** Files that lie in no folder of the curator's, by source and path. */
  files: { version: 1 },
  /** Folders that the curator chose, by source. */
  handles: { version: 1 },
  /** Pictures of the library, by their ids. */
  pictures: { version: 1 },
  /** Runs at each target, and a list of them. Journals have a version of their own (`core/run/journal.ts`). */
  journals: { version: 1 },
  /** What checks found, by item. */
  checks: { version: 1 },
  /** What targets listed when they last answered. */
  seen: { version: 1 },
  /** What targets were to get when all had come to rest. */
  rehearsals: { version: 1 },
  /** How loud items are, with what their files were when they were heard. */
  levels: { version: 1 },
  /** Runs into originals, a list of them, and the ways back. Version 1 noted nothing of before, 2 counted nothing taken back. */
  originals: { version: 3 },
} as const;

export type DatabaseName = keyof typeof KEPT;

/** @throws {RangeError} for a record that another version wrote */
export function checkVersion(name: DatabaseName, version: number, what: string): void {
  if (version !== KEPT[name].version) throw new RangeError(`version ${version} of ${what} is not known here`);
}
