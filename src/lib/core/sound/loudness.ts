/** Blocks that loudness is taken of, in seconds, and how often one begins (ITU-R BS.1770-5, annex 1). */
const BLOCK_SECONDS = 0.4;
const STEP_SECONDS = 0.1;
const STEPS_IN_BLOCK = 4;
/** Loudness below which blocks are ignored, in LUFS, and relative to the rest, in LU. */
const LEAST = -70;
const MOST_BELOW = 10;

/** How loud each moment of a sound is: the mean square of a block after its weighting, ten blocks a second. */
export type LoudnessBlocks = Float64Array;

const lufs = (energy: number): number => -0.691 + 10 * Math.log10(energy);
const energyOf = (loudness: number): number => 10 ** ((loudness + 0.691) / 10);

/**
 * The loudness of a track, or of several together (a release), without quiet moments.
 * @returns LUFS; null if nothing is loud enough
 */
export function integratedLoudness(parts: readonly LoudnessBlocks[]): number | null {
  const floor = energyOf(LEAST);
  const loud = meanAbove(parts, floor);
  if (loud === null) return null;
  const mean = meanAbove(parts, Math.max(floor, loud * 10 ** (-MOST_BELOW / 10)));
  return mean === null ? null : lufs(mean);
}

function meanAbove(parts: readonly LoudnessBlocks[], floor: number): number | null {
  let [sum, count] = [0, 0];
  for (const blocks of parts)
    for (const energy of blocks)
      if (energy > floor) {
        sum += energy;
        count++;
      }
  return count === 0 ? null : sum / count;
}

/** The gain in decibels with which all tracks play equally loud: 18 below full scale. */
export const gainFor = (loudness: number): number => (Math.round((-18 - loudness) * 100) || 0) / 100;

/** Hears how loud a sound is as it comes. */
export class LoudnessMeter {
  private readonly step: number;
  private readonly filters: readonly Weighting[];
  private readonly weights: readonly number[];
  private readonly energies: number[] = [];
  private sum = 0;
  private frames = 0;

  /** @param sampleRate in hertz */
  constructor(sampleRate: number, channels: number) {
    this.step = Math.round(sampleRate * STEP_SECONDS);
    this.filters = Array.from({ length: channels }, () => new Weighting(sampleRate));
    this.weights = weightsOf(channels);
  }

  /** @param samples of each channel, between -1 and 1, as many of each */
  feed(samples: readonly Float32Array[]): void {
    const count = samples[0]?.length ?? 0;
    for (let from = 0; from < count;) {
      const to = Math.min(count, from + this.step - this.frames);
      samples.forEach((own, channel) => {
        const weight = this.weights[channel] ?? 1;
        this.sum += weight * (this.filters[channel]?.energy(own, from, to) ?? 0);
      });
      this.frames += to - from;
      from = to;
      if (this.frames === this.step) this.close();
    }
  }

  /** Of each block that is complete. A sound that is shorter than one has a single block. */
  blocks(): LoudnessBlocks {
    const { energies } = this;
    if (energies.length < STEPS_IN_BLOCK) {
      const length = energies.length * this.step + this.frames;
      const sum = energies.reduce((all, one) => all + one, this.sum);
      return length === 0 ? new Float64Array(0) : Float64Array.of(sum / length);
    }
    const perBlock = this.step * (BLOCK_SECONDS / STEP_SECONDS);
    return Float64Array.from({ length: energies.length - STEPS_IN_BLOCK + 1 }, (_, at) => {
      let sum = 0;
      for (let step = 0; step < STEPS_IN_BLOCK; step++) sum += energies[at + step]!;
      return sum / perBlock;
    });
  }

  private close(): void {
    this.energies.push(this.sum);
    this.sum = 0;
    this.frames = 0;
  }
}

/** Rear channels count more, the low-frequency channel not at all (table 4; the usual channel order). */
function weightsOf(channels: number): readonly number[] {
  const behind = 1.41;
  if (channels === 4) return [1, 1, behind, behind];
  if (channels === 5) return [1, 1, 1, behind, behind];
  return channels < 6 ? [1, 1, 1] : [1, 1, 1, 0, behind, behind, behind, behind];
}

/** K-weighting of one channel: a shelf for the head, then a high-pass filter. */
class Weighting {
  private readonly head: Coefficients;
  private readonly low: Coefficients;
  private readonly state = new Float64Array(4);

  constructor(sampleRate: number) {
    this.head = shelf(sampleRate);
    this.low = highPass(sampleRate);
  }

  /** The sum of squares of the filtered samples. */
  energy(samples: Float32Array, from: number, to: number): number {
    const { head, low, state } = this;
    let [a, b, c, d] = state as unknown as [number, number, number, number];
    let sum = 0;
    for (let at = from; at < to; at++) {
      const value = samples[at]!;
      const lifted = head.b0 * value + a;
      a = head.b1 * value - head.a1 * lifted + b;
      b = head.b2 * value - head.a2 * lifted;
      const out = low.b0 * lifted + c;
      c = low.b1 * lifted - low.a1 * out + d;
      d = low.b2 * lifted - low.a2 * out;
      sum += out * out;
    }
    state[0] = a;
    state[1] = b;
    state[2] = c;
    state[3] = d;
    return sum;
  }
}

/** Of a filter of the second order. */
interface Coefficients {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/*
 * The standard gives numbers for 48 kHz alone. These are the analogue filters behind them, brought to any rate by the
 * bilinear transform: at 48 kHz they give the standard's own numbers.
 */
const SHELF = { hertz: 1681.974450955533, decibels: 3.999843853973347, q: 0.7071752369554196 };
const LOW = { hertz: 38.13547087602444, q: 0.5003270373238773 };

function shelf(sampleRate: number): Coefficients {
  const k = Math.tan((Math.PI * SHELF.hertz) / sampleRate);
  const high = 10 ** (SHELF.decibels / 20);
  const band = high ** 0.4996667741545416;
  const whole = 1 + k / SHELF.q + k * k;
  return {
    b0: (high + (band * k) / SHELF.q + k * k) / whole,
    b1: (2 * (k * k - high)) / whole,
    b2: (high - (band * k) / SHELF.q + k * k) / whole,
    a1: (2 * (k * k - 1)) / whole,
    a2: (1 - k / SHELF.q + k * k) / whole,
  };
}

function highPass(sampleRate: number): Coefficients {
  const k = Math.tan((Math.PI * LOW.hertz) / sampleRate);
  const whole = 1 + k / LOW.q + k * k;
  return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / whole, a2: (1 - k / LOW.q + k * k) / whole };
}
