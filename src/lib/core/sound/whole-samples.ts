/**
 * Integers of some bit depth from samples between -1 and 1. If bits are dropped, triangular dither of two steps is
 * added, so that rounding causes no distortion.
 */
export class WholeSamples {
  private readonly scale: number;
  private state = 0x2545f491;

  /** @param dithers whether the samples have more precision than this bit depth */
  constructor(
    bits: number,
    private readonly dithers: boolean,
  ) {
    this.scale = 2 ** (bits - 1);
  }

  of(samples: Float32Array): Int32Array {
    const { scale, dithers } = this;
    const whole = new Int32Array(samples.length);
    for (let at = 0; at < samples.length; at++) {
      const value = samples[at]! * scale + (dithers ? this.noise() + this.noise() : 0);
      whole[at] = Math.max(-scale, Math.min(scale - 1, Math.round(value)));
    }
    return whole;
  }

  /** Between -0.5 and 0.5; the same each time, so that the same sound makes the same file. */
  private noise(): number {
    let { state } = this;
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    this.state = state;
    return state / 2 ** 32;
  }
}
