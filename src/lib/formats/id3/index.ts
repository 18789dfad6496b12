export { readTag, saidById3 } from './fields';
export { asId3v23 } from './older';
export { ID3_MAPS } from './tag-map';
export { ID3V1_BYTES } from './layout';
export type { Id3Frame, Id3Tag, Id3Version } from './layout';
export { frameText, parseId3, readId3 } from './reader';
export { hasOddities, normalId3, writeId3 } from './writer';
export { changeId3v1, isId3v1 } from './id3v1';
export { chapterPicture, id3Chapters } from './chapters';
