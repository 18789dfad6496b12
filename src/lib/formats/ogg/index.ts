export { readPage } from './pages';
export type { OggPage } from './pages';
export { codecOf, readHeaderPackets, readLastPage, readOggDuration } from './stream';
export type { OggCodec } from './stream';
export { readOgg } from './reader';
export type { OggRead } from './reader';
export { readNative, rewrite } from './writer';
