export { SYNC_SEARCH_BYTES, findFirstFrame, isFrameHeader } from './frames';
export { readMp3 } from './reader';
export { readChapterPicture, readNative, rewrite } from './writer';
