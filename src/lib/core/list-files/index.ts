export { LIST_FILES, LIST_FILE_ENDINGS, MOST_LIST_BYTES } from './list-file';
export type { ListFileType, ListOnFile } from './list-file';
export {
  encodeListText,
  encodingOf,
  inEncoding,
  listTextOf,
  readListFile,
  readListText,
  writeListFile,
  writeListText,
} from './read-write';
export type { ListEncoding, ListFileWishes } from './read-write';
export { EntryIndex, asAddress, pathOut, pathsIn } from './resolve';
export type { FoundBy, PathsOut, Resolved } from './resolve';
