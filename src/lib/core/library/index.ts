export { carryOver } from './carry';
export { EMPTY_PARTS, LIBRARY_VERSION } from './head';
export { EARLIER_PLACES, migrateHead } from './migrations/head';
export { migrateItem } from './migrations/item';
export { newPlayer, ofItems, targetId, withChoices } from './players';
export { abilitiesOf } from './places';
export type { TargetAbilities, TargetType } from './places';
export type { Base, PastRun, Player, PlayerId, Selection, Target, TargetId } from './players';
export type { HeadParts, LibraryHead } from './head';
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
export { isPlaceRecord } from './shapes';
export { findBeside, isSameFile } from './take-in';
export type { FoundFile } from './take-in';
export { EMPTY_HISTORY, record, redo, undo } from './history';
export type { Act, Change, History } from './history';
export { changeParts, mergeParts } from './parts';
export type { PartChange } from './parts';
export { ITEMS_VERSION, SAID_VERSION, packItems, packSaid, unpackItems, unpackSaid } from './kept-record';
export type { SaidRecord } from './kept-record';
export { holdsSaid, joinKept, originalOf, saidOf, saysAnything, sameOriginal, sameSaid } from './kept-item';
export type { Unedited, Said } from './kept-item';
