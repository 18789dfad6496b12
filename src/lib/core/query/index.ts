export type { Completion, completionsFor } from './complete';
export { PLAIN, queryOf, testOf } from './meets';
export type { Asking } from './meets';
export { QUERY_NAMES } from './names';
export type { Asked, QueryName } from './names';
export { parseQuery } from './parse';
export { countValues, valuesLike } from './values';
export type { ValueCounts } from './values';
export type { ParsedQuery, Query, QueryProblem } from './parse';
