export { LiveRows } from './live-rows';
export { LEVELS, inScope } from './rows';
export type { GroupRow, Level, Row, Scope } from './rows';
export { Tally } from './tally';
export type { Counts, GapsOf, ItemChange } from './tally';
