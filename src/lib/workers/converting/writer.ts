/** Takes a sound in and writes it into a file. */
export interface SoundWriter {
  /** @param samples of each channel, between -1 and 1, as many of each */
  add(samples: readonly Float32Array[]): Promise<void>;
  /** Writes what is left. */
  finish(): Promise<void>;
  /** Lets go of the encoder; what was written is no file. */
  cancel(): Promise<void>;
}
