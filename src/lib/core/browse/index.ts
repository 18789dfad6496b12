export { LEVELS, countKinds, inScope, toRows } from './rows';
export type { GroupRow, ItemRow, Level, Row, Scope } from './rows';
