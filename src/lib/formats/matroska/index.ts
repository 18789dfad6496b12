export { MATROSKA_MAP, WEBM_MAP } from './tag-map';
export { clusterRanges, readMatroskaFacts } from './facts';
export { matroskaFields } from './fields';
export { readNative, rewrite } from './writer';
export { readFirstTexts } from './subtitle-texts';
