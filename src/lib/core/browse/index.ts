export { LiveRows } from './live-rows';
export { LEVELS, askedOf, inScope } from './rows';
export type { GroupRow, Level, Row, Scope } from './rows';
export { Tally } from './tally';
export type { Counts, GapsOf, ItemChange } from './tally';
export { summarize, summarySteps } from './summary';
export type { FieldSummary, SharedPicture, SharedValue, Summary } from './summary';
