export { readMp4Facts, sampleEnd } from './facts';
export type { Mp4Facts } from './facts';
export { MP4_MAP } from './tag-map';
export { coverPictures, itemFields, itemTexts, numberedGenre } from './item-fields';
export { findBox, makeBox, parseBoxes } from './boxes';
export { mediaRanges } from './media-ranges';
export { readMp4 } from './reader';
export type { Mp4Structure } from './reader';
export { readChapterPicture, readNative, rewrite } from './writer';
