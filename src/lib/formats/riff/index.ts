export { readChunks } from './chunks';
export type { Chunk, ChunkOrder } from './chunks';
