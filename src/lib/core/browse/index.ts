export { LiveRows } from './live-rows';
export { LEVELS, askedOf, inScope } from './rows';
export type { GroupRow, Level, Row, Scope } from './rows';
export { ODDITIES, fieldValueSteps, withValue } from './field-values';
export type { FieldValueRow, FieldValues, Oddity } from './field-values';
export { Tally } from './tally';
export type { Counts, GapsOf, ItemChange } from './tally';
export { summarize, summarySteps } from './summary';
export type { FieldSummary, SharedPicture, SharedValue, Summary } from './summary';
