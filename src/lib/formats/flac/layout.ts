/** Metadata blocks of FLAC (RFC 9639, section 8). */
export const BLOCK = { streamInfo: 0, padding: 1, vorbisComment: 4, picture: 6 } as const;
export const MARK = 'fLaC';
/** A block's length is a 24-bit number. */
export const MOST_BLOCK_BYTES = 0xffffff;
/** Set on the last metadata block. */
export const LAST_FLAG = 0x80;

export interface FlacBlock {
  readonly type: number;
  /** First byte of the block's content, behind its 4-byte header. */
  readonly start: number;
  readonly end: number;
}

export interface FlacStructure {
  /** Where `fLaC` stands; above 0 behind a foreign ID3 tag. */
  readonly start: number;
  readonly blocks: readonly FlacBlock[];
  readonly audioStart: number;
}
