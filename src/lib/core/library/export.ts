import { parseJson } from '../json';
import type { Item } from '../items';
import type { LibraryHead } from './head';
import { migrateHead } from './migrations/head';
import { migrateItem } from './migrations/item';
import { firstWrong, list, type Shape } from './shape';
import { headShape, itemShape } from './shapes';

/** Items in one part of a library file. */
export const EXPORT_CHUNK = 1000;

/** Names of the parts in the ZIP of a library file; see `docs/library-file.md`. */
export const headFile = 'library.json';
export const itemsFile = (index: number): string => `items/${String(index).padStart(4, '0')}.json`;
export const pictureFile = (id: string): string => `pictures/${id}`;

/** Limits of a library file in bytes; a file that declares more is refused before it is unpacked. */
export const LIMITS = {
  head: 64 * 1024 * 1024,
  items: 48 * 1024 * 1024,
  picture: 32 * 1024 * 1024,
  /** Of all parts together. */
  all: 8 * 1024 * 1024 * 1024,
  /** The most times its own size that a part may unpack to. Descriptions are repetitive, but less than that. */
  fold: 150,
} as const;

/** Why a library file was not read. */
export class LibraryFileError extends Error {
  override readonly name = 'LibraryFileError';
}

const itemsShape = list(itemShape, EXPORT_CHUNK);

function checked(value: unknown, shape: Shape, name: string): void {
  const found = firstWrong(shape, value);
  if (found) throw new LibraryFileError(`${name}: ${found}`);
}

/** A lone surrogate as JSON writes it. */
const HALF_PAIR = /\\u[dD][89a-fA-F]/;
const wellFormed = (_key: string, value: unknown) =>
  typeof value === 'string' ? value.toWellFormed() : value;

function parsed(text: string, name: string): unknown {
  try {
    return parseJson(text, HALF_PAIR.test(text) ? wellFormed : undefined);
  } catch {
    throw new LibraryFileError(`${name} is no JSON`);
  }
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const isOld = ({ fileFields, edits, facts }: Record<string, unknown>) =>
  isObject(fileFields) && isObject(edits) && isObject(facts);

/** Migrations rely on what their version wrote; anything else makes them fail somewhere. */
function migrated(kept: Record<string, unknown>): LibraryHead {
  try {
    return migrateHead(kept);
  } catch (error) {
    if (error instanceof TypeError) throw new LibraryFileError(`${headFile} is no head of a library`);
    throw error;
  }
}

/** @throws {LibraryFileError} naming the wrong place; RangeError for a newer version */
export function readHead(text: string): LibraryHead {
  const kept = parsed(text, headFile);
  if (!isObject(kept)) throw new LibraryFileError(`${headFile} is no head of a library`);
  if (kept.arrivals !== undefined && !(Array.isArray(kept.arrivals) && kept.arrivals.every(isObject)))
    throw new LibraryFileError(`${headFile}: arrivals is no list of arrivals`);
  const head = migrated(kept);
  checked(head, headShape, headFile);
  return head;
}

/**
 * The items of one part.
 * @throws {LibraryFileError} naming the wrong place
 */
export function readItems(text: string, name: string = itemsFile(0)): readonly Item[] {
  const kept = parsed(text, name);
  if (!Array.isArray(kept)) throw new LibraryFileError(`${name} is no list of items`);
  if (kept.length > EXPORT_CHUNK) throw new LibraryFileError(`${name} holds more than ${EXPORT_CHUNK} items`);
  if (!kept.every((item) => isObject(item) && (isObject(item.file) || isOld(item))))
    throw new LibraryFileError(`${name} holds something that is no item`);
  const items = (kept as unknown as Item[]).map(migrateItem);
  checked(items, itemsShape, name);
  return items;
}
