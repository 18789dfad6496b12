export { readPage } from './pages';
export type { OggPage } from './pages';
export { codecOf, commentBytes, preSkipOf, readHeaderPackets, readLastPage, readOggDuration } from './stream';
export type { HeaderPackets, OggCodec } from './stream';
