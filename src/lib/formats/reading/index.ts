export { isMediaName, otherMedia } from './media-names';
export { sniffFormat } from './sniff';
export { UnreadableError } from './media-read';
export type { MediaRead } from './media-read';
export { readChapterPicture, readMedia, readPicture } from './read-media';
export { readPictureSize } from '../picture-size';
