export { readTopBoxes } from './layout';
export { readMp4Facts } from './facts';
export type { Mp4Facts } from './facts';
export { rewrite } from './writer';
