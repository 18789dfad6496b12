export { defaultsFor, findMoves, itemsOfList, listsOfItem, missingDefaults, tieTree } from './lists';
export type { FolderRule, ListId, MirrorList, Moved, PlayList, TieChoice, WatchedTree } from './lists';
