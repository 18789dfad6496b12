export { OPUS_MAP, VORBIS_MAP } from './tag-map';
export { isPictureName, picturesIn } from './pictures';
export { parsePictureBlock, pictureBlockBytes } from './picture-block';
export type { PictureBlock } from './picture-block';
export {
  changeCommentPictures,
  changeVorbisComment,
  emptyComment,
  namedEntries,
  parseVorbisComment,
  readComment,
  vorbisCommentBytes,
} from './vorbis-comment';
export type { VorbisComment } from './vorbis-comment';
