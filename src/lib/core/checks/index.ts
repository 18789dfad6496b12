export { findingsOf, isFresh } from './checks';
export type { CheckFinding, Checked } from './checks';
export { gainsOf } from './gains';
