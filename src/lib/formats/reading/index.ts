export { isMediaName, otherMedia } from './media-names';
export { sniffFormat } from './sniff';
export { UnreadableError, readChapterPicture, readMedia, readPicture } from './read-media';
export type { MediaRead } from './read-media';
export { SourceTokenizer } from './tokenizer';
export { readPictureSize } from '../picture-size';
