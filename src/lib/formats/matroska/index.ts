export { clusterRanges, readMatroskaFacts } from './facts';
export type { MatroskaFacts, MatroskaTag } from './facts';
