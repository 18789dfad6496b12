export { MATROSKA_MAP } from './tag-map';
export { clusterRanges, readMatroskaFacts } from './facts';
export type { MatroskaFacts, MatroskaTag } from './facts';
