export { VORBIS_MAP } from './tag-map';
export { changeVorbisComment, parseVorbisComment, readComment, vorbisCommentBytes } from './vorbis-comment';
export type { VorbisComment } from './vorbis-comment';
