export { readChunks } from './chunks';
export type { Chunk, ChunkOrder } from './chunks';
export { readRiffFacts } from './facts';
export type { RiffFacts } from './facts';
export { orderOf } from './layout';
export { isId3Chunk, readChapterPicture, readNative } from './reader';
export { rewrite } from './writer';
export { plainSamples, readPlainSound, wavHeader } from './samples';
export type { PlainSound } from './samples';
