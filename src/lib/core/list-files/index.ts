export { LIST_FILES, LIST_FILE_ENDINGS } from './list-file';
export type { ListFileType, ListOnFile } from './list-file';
export { readListFile, writeListFile } from './read-write';
export type { ListFileWishes } from './read-write';
export { EntryIndex, asAddress, pathOut } from './resolve';
export type { FoundBy, PathsOut, Resolved } from './resolve';
