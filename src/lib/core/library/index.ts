export { EMPTY_PARTS, LIBRARY_VERSION, PLACES, migrateHead, migrateItem } from './head';
export type { HeadParts, LibraryHead, Place, PlaceRecord, PlayerRecord } from './head';
export {
  EXPORT_CHUNK,
  LIMITS,
  LibraryFileError,
  headFile,
  itemsFile,
  pictureFile,
  readHead,
  readItems,
} from './export';
export { findBeside, isSameFile } from './take-in';
export type { FoundFile } from './take-in';
export { EMPTY_HISTORY, record, redo, undo } from './history';
export type { Act, Change, History } from './history';
export { changeParts, mergeParts } from './parts';
export type { PartChange } from './parts';
export { holdsSaid, joinKept, originalOf, saidOf, sameOriginal, sameSaid } from './kept-item';
export type { Original, Said } from './kept-item';
