export { changeVorbisComment, commentFields, parseVorbisComment, vorbisCommentBytes } from './vorbis-comment';
export type { VorbisComment } from './vorbis-comment';
