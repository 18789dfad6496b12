/**
 * Why no file can be made that a player takes: it takes no video that can be encoded; the file has no audio; it is too
 * long; it would be too large in every format; or the player takes nothing that can be encoded.
 */
export type Unmakeable = 'noPicture' | 'noSound' | 'seconds' | 'bytes' | 'noCodec';
