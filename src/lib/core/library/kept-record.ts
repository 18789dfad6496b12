import type { ItemId } from '../items';
import { deltaOf, withDelta, type Delta } from './delta';
import type { KeptUnedited, Unedited, Said } from './kept-item';

/* Records of a library as the browser keeps them: as text, which it reads in a third of the time that objects take. */

/** Version of a record of items. Raise it with a migration in `unpackItems`. */
export const ITEMS_VERSION = 1;

interface ItemsRecord {
  readonly version: number;
  readonly items: readonly (Delta | null)[];
}

/**
 * Items as the text of one record. Songs of an album are nearly equal, so each is kept as its difference from the one
 * before. That takes a fifth of the text, and equal parts share memory once they are read.
 */
export function packItems(items: readonly KeptUnedited[]): string {
  const record: ItemsRecord = {
    version: ITEMS_VERSION,
    items: items.map((item, index) => deltaOf(item, items[index - 1])),
  };
  return JSON.stringify(record);
}

/**
 * The items of a record, also in earlier forms: whole items, and up to version 3 not as text.
 * @throws {RangeError} if a newer version wrote it
 */
export function unpackItems(record: string | readonly Unedited[] | null): readonly Unedited[] {
  const read = typeof record === 'string' ? (JSON.parse(record) as ItemsRecord | Unedited[]) : record;
  if (read === null) return [];
  if (!('items' in read)) return read;
  checkVersion(read.version, ITEMS_VERSION, 'items');
  let before: unknown;
  return read.items.map((delta) => (before = withDelta(before, delta)) as Unedited);
}

/** Version of a record of descriptions. Raise it with a migration in `unpackSaid`. */
export const SAID_VERSION = 3;

type SaidOfItems = readonly (readonly [ItemId, Said])[];

/** A record of descriptions of items; up to version 1 not as text. */
export interface SaidRecord {
  readonly version: number;
  readonly said: string | SaidOfItems;
}

export const packSaid = (said: SaidOfItems): SaidRecord => ({
  version: SAID_VERSION,
  said: JSON.stringify(said),
});

/** @throws {RangeError} if a newer version wrote it */
export function unpackSaid({ version, said }: SaidRecord): SaidOfItems {
  if (version === 1) return said as SaidOfItems;
  // Version 2 had no files found beside items, and is the same otherwise.
  if (version !== 2) checkVersion(version, SAID_VERSION, 'edits');
  return JSON.parse(said as string) as SaidOfItems;
}

function checkVersion(version: number, known: number, what: string): void {
  if (version !== known) throw new RangeError(`version ${version} of ${what} is not known here`);
}
