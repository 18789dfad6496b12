import { bessel, kaiserBeta, kaiserTaps } from './kaiser';

/** Decibels by which what would fold back is held down. */
const STOP_DB = 110;
/** Hertz up to which the signal is kept, as far as its new rate allows. */
const HEARD = 20_000;
/** Of the half of a low rate, the part up to which all is kept. */
const KEPT = 0.907;

/**
 * Converts one channel to another sample rate, by a filter with a Kaiser window: frequencies that can be heard are unchanged, and
 * those that would alias are removed. Timing is preserved.
 */
export class Resampler {
  private readonly up: number;
  private readonly down: number;
  /** Taps of the filter for each place between two samples. */
  private readonly phases: readonly Float64Array[];
  private readonly half: number;
  /** The end of what came, which the next samples go on from. */
  private tail: Float64Array;
  /** Samples received, including those before the first. */
  private seen = 0;
  private made = 0;

  /** @param from hertz @param to hertz */
  constructor(from: number, to: number) {
    const shared = greatestDivisor(from, to);
    this.up = to / shared;
    this.down = from / shared;
    const lower = Math.min(from, to);
    const pass = Math.min(HEARD, (KEPT * lower) / 2);
    const stop = lower - pass;
    const width = (2 * Math.PI * (stop - pass)) / from;
    this.half = Math.ceil(kaiserTaps(STOP_DB, width) / 2);
    const cut = (pass + stop) / 2 / from;
    this.phases = Array.from({ length: this.up }, (_, phase) => taps(phase / this.up, this.half, cut));
    // Silence before the first.
    this.tail = new Float64Array(this.half - 1);
    this.seen = this.tail.length;
  }

  /** The samples that can be computed so far. */
  feed(samples: Float32Array): Float32Array {
    const all = new Float64Array(this.tail.length + samples.length);
    all.set(this.tail);
    all.set(samples, this.tail.length);
    const start = this.seen - this.tail.length;
    this.seen += samples.length;
    const out = this.make(all, start, Infinity);
    // The first sample that the next one to be made needs.
    const needed = Math.floor((this.made * this.down) / this.up) - start;
    this.tail = all.slice(Math.max(0, Math.min(needed, all.length)));
    return out;
  }

  /** The remaining samples, with silence after the last: in total as many as the audio has at the new rate. */
  end(): Float32Array {
    const came = this.seen - (this.half - 1);
    const most = Math.ceil((came * this.up) / this.down);
    const start = this.seen - this.tail.length;
    const all = new Float64Array(this.tail.length + this.half + 1);
    all.set(this.tail);
    return this.make(all, start, most);
  }

  private make(all: Float64Array, start: number, most: number): Float32Array {
    const { up, down, half, phases } = this;
    const room = Math.max(0, Math.ceil(((all.length + start) * up) / down) - this.made);
    const out = new Float32Array(Math.min(room, most - this.made));
    let count = 0;
    while (count < out.length) {
      const place = this.made * down;
      const first = Math.floor(place / up) - start;
      if (first + 2 * half > all.length) break;
      const own = phases[place % up]!;
      let sum = 0;
      for (let tap = 0; tap < own.length; tap++) sum += own[tap]! * all[first + tap]!;
      out[count++] = sum;
      this.made++;
    }
    return count === out.length ? out : out.subarray(0, count);
  }
}

/** Filter taps for a position between two samples, from `half - 1` before to `half` after it. */
function taps(between: number, half: number, cut: number): Float64Array {
  const beta = kaiserBeta(STOP_DB);
  const own = new Float64Array(2 * half);
  let sum = 0;
  for (let tap = 0; tap < own.length; tap++) {
    const time = tap - (half - 1) - between;
    const turn = 2 * Math.PI * cut * time;
    const sinc = time === 0 ? 1 : Math.sin(turn) / turn;
    const within = 1 - (time / half) ** 2;
    own[tap] = within <= 0 ? 0 : 2 * cut * sinc * bessel(beta * Math.sqrt(within));
    sum += own[tap]!;
  }
  // As loud as it was, at every place.
  for (let tap = 0; tap < own.length; tap++) own[tap]! /= sum;
  return own;
}

function greatestDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestDivisor(b, a % b);
}
