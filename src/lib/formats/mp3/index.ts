export {
  SYNC_SEARCH_BYTES,
  findFirstFrame,
  isFrameHeader,
  readEncoderSilence,
  readFrameHeader,
  readStreamLength,
  reckonSeconds,
} from './frames';
export type { EncoderSilence, FrameHeader } from './frames';
export { apeFields, apePictures, apeTexts } from './ape';
export { readMp3, readTail } from './reader';
export type { Mp3Structure } from './reader';
export { readChapterPicture, readNative, rewrite } from './writer';
export { Mp3File } from './sound-file';
