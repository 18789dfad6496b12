export { BLOCK, LAST_FLAG, MARK } from './layout';
export type { FlacStructure } from './layout';
export { endsWhole, readStreamInfo } from './last-frame';
export type { StreamInfo } from './last-frame';
export { readFlac } from './reader';
export { readNative, rewrite } from './writer';
