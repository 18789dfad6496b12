/**
 * Why nothing that a player takes can be made of a file: it takes no pictures that can be made; the file holds no sound;
 * it lasts too long; it would be too large whatever it is made to; or the player takes nothing that can be made.
 */
export type Unmakeable = 'noPicture' | 'noSound' | 'seconds' | 'bytes' | 'noCodec';
