export { readChunks, sizeIn } from './chunks';
export type { Chunk, ChunkOrder } from './chunks';
