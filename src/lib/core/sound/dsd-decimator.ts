import { bessel, kaiserBeta, kaiserTaps } from './kaiser';

/** Decibels by which the noise above what is heard is held down, so that it does not fold back. */
const STOP_DB = 112;
/** Hertz up to which the signal is unchanged. */
const HEARD = 20_000;
/** Output rates: integer fractions of all rates of DSD. */
const MADE_RATES = [176_400, 192_000] as const;
/** Bytes with their bits the other way round. */
const MIRRORED = Uint8Array.from({ length: 256 }, (_, byte) => {
  let mirrored = 0;
  for (let bit = 0; bit < 8; bit++) mirrored |= ((byte >> bit) & 1) << (7 - bit);
  return mirrored;
});
/** Bits that are nearly silent, byte by byte. */
const IDLE = 0x69;

/**
 * The number of one-bit samples per output sample, and the output rate.
 * @param sampleRate hertz of the one-bit samples
 * @returns null for a rate that DSD does not have
 */
export function decimationOf(sampleRate: number): { readonly by: number; readonly rate: number } | null {
  const rate = MADE_RATES.find((one) => sampleRate % (one * 8) === 0);
  return rate === undefined || sampleRate === 0 ? null : { by: sampleRate / rate, rate };
}

/**
 * Makes samples of one channel of DSD: each bit pushes up or down, and what is heard is what a low-pass filter leaves of
 * that. The filter adds up whole bytes from tables, one for each place in its first half: its second half mirrors that, and
 * so few tables stay near the processor. Sounds keep their place in time.
 */
export class DsdDecimator {
  private readonly step: number;
  private readonly span: number;
  /** For each byte under the first half of the filter and each of its values, its contribution. */
  private readonly table: Float32Array;
  /** The end of what came, which the next bytes go on from. */
  private tail: Uint8Array;
  private made = 0;
  private came = 0;

  /**
   * @param sampleRate hertz of its bits
   * @param by one-bit samples per output sample, a multiple of 8
   * @param lowestFirst whether the lowest bit of a byte is the first in time
   */
  constructor(sampleRate: number, by: number, lowestFirst: boolean) {
    this.step = by / 8;
    const taps = lowPass(sampleRate, sampleRate / by / 2);
    this.span = taps.length / 8;
    this.table = tableOf(taps, lowestFirst);
    this.tail = new Uint8Array(this.span / 2).fill(IDLE);
  }

  /** The samples that can be computed so far. @param bytes of this channel, in order of time */
  feed(bytes: Uint8Array): Float32Array {
    const all = new Uint8Array(this.tail.length + bytes.length);
    all.set(this.tail);
    all.set(bytes, this.tail.length);
    this.came += bytes.length;
    const count = Math.max(0, Math.floor((all.length - this.span) / this.step) + 1);
    const out = this.make(all, count);
    this.tail = all.slice(count * this.step);
    return out;
  }

  /** The remaining samples, with silence after the last: in total as many as its bits make. */
  end(): Float32Array {
    const left = Math.ceil(this.came / this.step) - this.made;
    const all = new Uint8Array(Math.max(0, (left - 1) * this.step + this.span)).fill(IDLE);
    all.set(this.tail.subarray(0, all.length));
    return this.make(all, left);
  }

  private make(all: Uint8Array, count: number): Float32Array {
    const { table, step } = this;
    const half = this.span / 2;
    const mirrored = all.map((byte) => MIRRORED[byte]!);
    const out = new Float32Array(count);
    for (let index = 0, first = 0; index < count; index++, first += step) {
      let [before, behind] = [0, 0];
      for (let at = 0, from = first, to = first + this.span - 1; at < half; at++, from++, to--) {
        const row = at << 8;
        before += table[row | all[from]!]!;
        behind += table[row | mirrored[to]!]!;
      }
      out[index] = before + behind;
    }
    this.made += count;
    return out;
  }
}

/** Taps of a filter that lets through what is heard, and stops all from some frequency on; a multiple of 16, as loud as one. */
function lowPass(sampleRate: number, stop: number): Float64Array {
  const width = (2 * Math.PI * (stop - HEARD)) / sampleRate;
  const taps = new Float64Array(16 * Math.ceil(kaiserTaps(STOP_DB, width) / 16));
  const cut = (HEARD + stop) / 2 / sampleRate;
  const beta = kaiserBeta(STOP_DB);
  const half = taps.length / 2;
  let sum = 0;
  taps.forEach((_, tap) => {
    const time = tap - half + 0.5;
    const turn = 2 * Math.PI * cut * time;
    taps[tap] = (Math.sin(turn) / turn) * bessel(beta * Math.sqrt(1 - (time / half) ** 2));
    sum += taps[tap];
  });
  return taps.map((tap) => tap / sum);
}

function tableOf(taps: Float64Array, lowestFirst: boolean): Float32Array {
  const table = new Float32Array((taps.length / 16) * 256);
  for (let at = 0; at < taps.length / 16; at++)
    for (let byte = 0; byte < 256; byte++) {
      let sum = 0;
      for (let bit = 0; bit < 8; bit++) {
        const isUp = (byte >> (lowestFirst ? bit : 7 - bit)) & 1;
        sum += isUp ? taps[at * 8 + bit]! : -taps[at * 8 + bit]!;
      }
      table[(at << 8) | byte] = sum;
    }
  return table;
}
