export { readDsd } from './structure';
export type { DsdStructure } from './structure';
export { dsdSamples, type DsdSound } from './samples';
export { readChapterPicture, readNative, readTag } from './reader';
export { rewrite } from './writer';
