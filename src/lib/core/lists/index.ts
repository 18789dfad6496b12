export { NO_ORDER, LIMITED_BY, WORLD_ORDERS, newHandList, newRuleList } from './list';
export type {
  FetchFrom,
  HandList,
  ListEntry,
  ListId,
  ListLimit,
  ListOrder,
  ListOrderKey,
  MirrorList,
  OpenSaid,
  OrderTerm,
  PlayList,
  PlayerList,
  RuleList,
  Suite,
} from './list';
export {
  countEntries,
  doublesIn,
  entriesOf,
  firstOf,
  itemsIn,
  joinSuite,
  layTo,
  moveBy,
  moveTo,
  nameSuite,
  partSuites,
  putIn,
  putOpen,
  sortOnce,
  takeOut,
} from './hand';
export type { Changed, PutIn } from './hand';
export { entryKey, mergeOrders, numbered, withEntries } from './merge';
export type { Merged } from './merge';
export { marked, playedAgain, shuffled, unmarked } from './plays';
export type { ListMarks, Play } from './plays';
export { ListOrdering } from './order';
export type { OrderKeys } from './order';
export { LiveLists } from './live-lists';
export type { ListWishes } from './live-lists';
export type { ListDigest, ListedItems } from './live-list';
export type { WhyListed } from './live-rule';
export type { RuleProblem } from './holding';
export { defaultsFor, findMoves, itemsOfMirror, mirrors, missingDefaults, tieTree } from './watched';
export type { FolderRule, Moved, TieChoice, WatchedTree } from './watched';
