export { readChunks } from './chunks';
export type { Chunk, ChunkOrder } from './chunks';
export { orderOf } from './layout';
export { isId3Chunk, readChapterPicture, readNative } from './reader';
export { rewrite } from './writer';
