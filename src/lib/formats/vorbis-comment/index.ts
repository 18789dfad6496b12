export { changeVorbisComment, parseVorbisComment, vorbisCommentBytes } from './vorbis-comment';
export type { VorbisComment } from './vorbis-comment';
