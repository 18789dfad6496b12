export { readChunks } from './chunks';
export type { Chunk, ChunkOrder } from './chunks';
export { orderOf } from './layout';
export { isId3Chunk, readNative } from './reader';
export { rewrite } from './writer';
