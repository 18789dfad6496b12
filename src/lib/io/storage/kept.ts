import { ITEMS_VERSION, LIBRARY_VERSION, SAID_VERSION } from '$lib/core/library';
import { JOURNAL_VERSION } from '$lib/core/run';

/**
 * Everything that is stored in the browser: a database for each type of record, with versions; none for data stored as
 * it came. When raising a version, add a migration where the record is read; where its reader ignores other versions,
 * that is the migration.
 */
export const KEPT = {
  /**
   * Items by the hundreds, a record for each part of the head, one for the entries of each hand list, and the head,
   * with a stamp, a name and the queue.
   */
  library: { head: LIBRARY_VERSION, items: ITEMS_VERSION, part: 1, queue: 1 },
  /** Edits of items, 25 items to a record. */
  said: { said: SAID_VERSION },
  /** The base of each target, 500 files to a record, and files that were there earlier. */
  bases: { base: 1 },
  /** Files that lie in no folder of the curator's, by source and path. */
  files: {},
  /** Folders that the curator chose, by source, and the one that twins are kept in. */
  handles: {},
  /** Pictures of the library, by their ids. */
  pictures: {},
  /** Runs at each target, and a list of them. */
  journals: { journal: JOURNAL_VERSION, list: 1 },
  /** What checks found, by item. */
  checks: {},
  /** What targets listed when they last answered. */
  seen: { record: 1 },
  /** The last rehearsal of each target. */
  rehearsals: { record: 1 },
  /** How loud items are, with what their files were when they were heard. */
  levels: { record: 1 },
  /** What twins there are of items; their files lie in the browser's private file system (`io/twin-files.ts`), or in
   * a folder of the curator's (`io/twin-folder.ts`). */
  twins: { record: 1 },
  /** Twins that are still to be made, and how fast that goes. */
  making: { record: 1 },
  /**
   * Runs into originals, a list of them, and the ways back. Version 1 recorded no values before, version 2 counted
   * nothing taken back.
   */
  originals: { list: 3 },
} as const;

export type DatabaseName = keyof typeof KEPT;

/** @throws {RangeError} for a record that another version wrote */
export function checkVersion(version: number, known: number, what: string): void {
  if (version !== known) throw new RangeError(`version ${version} of ${what} is not known here`);
}
