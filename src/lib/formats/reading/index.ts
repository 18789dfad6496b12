export { isMediaName, otherMedia } from './media-names';
export { sniffFormat } from './sniff';
export { UnreadableError, readMedia, readPicture } from './read-media';
export type { MediaRead } from './read-media';
export { readPictureSize } from './picture-size';
export { SourceTokenizer } from './tokenizer';
