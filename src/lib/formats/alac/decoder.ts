import { BitReader } from './bit-reader';
import { ELEMENT, type AlacConfig } from './layout';
import { samplesOf } from './predictor';
import { readResiduals } from './residual-coder';

/** How one channel of an element is predicted. */
interface Prediction {
  readonly mode: number;
  readonly denominator: number;
  readonly history: number;
  readonly order: number;
  readonly coefficients: Int16Array;
}

/** Elements that carry channels; those of effects carry one, too. */
const CARRIES: ReadonlyMap<number, number> = new Map([
  [ELEMENT.single, 1],
  [ELEMENT.pair, 2],
  [3, 1],
]);

/** Samples from packets of Apple Lossless. */
export class AlacDecoder {
  constructor(private readonly config: AlacConfig) {}

  /**
   * The samples of a packet, an array for each channel, as whole numbers of as many bits as the stream has.
   * @throws {RangeError} for a packet that is none
   */
  decode(packet: Uint8Array): readonly Int32Array[] {
    const from = new BitReader(packet);
    const channels: Int32Array[] = [];
    while (channels.length < this.config.channels) {
      const carries = CARRIES.get(from.take(3));
      if (carries === undefined || channels.length + carries > this.config.channels)
        throw new RangeError('the packet holds other channels than its stream');
      channels.push(...this.element(from, carries));
    }
    return channels;
  }

  private element(from: BitReader, carries: number): readonly Int32Array[] {
    from.take(16);
    const isPartial = from.take(1) === 1;
    const shifted = from.take(2) * 8;
    const isPlain = from.take(1) === 1;
    const count = isPartial ? from.take(32) : this.config.frameSamples;
    if (count > this.config.frameSamples) throw new RangeError('a packet longer than its stream says');
    return isPlain ? this.plain(from, carries, count) : this.packed(from, carries, count, shifted);
  }

  private plain(from: BitReader, carries: number, count: number): readonly Int32Array[] {
    const { bits } = this.config;
    const unused = 32 - bits;
    const channels = Array.from({ length: carries }, () => new Int32Array(count));
    for (let at = 0; at < count; at++)
      for (const channel of channels) channel[at] = (from.take(bits) << unused) >> unused;
    return channels;
  }

  private packed(from: BitReader, carries: number, count: number, shifted: number): readonly Int32Array[] {
    const bits = this.config.bits - shifted + (carries - 1);
    if (bits < 1 || bits > 32) throw new RangeError('samples of a size that cannot be');
    const mixShift = from.take(8);
    const mixParts = (from.take(8) << 24) >> 24;
    const predictions = Array.from({ length: carries }, () => readPrediction(from));
    const low = shifted > 0 ? lowBits(from, carries, count, shifted) : null;
    const channels = predictions.map((prediction) => this.channel(from, prediction, count, bits));
    if (carries === 2 && mixParts !== 0) unmix(channels, count, mixShift, mixParts);
    if (low)
      channels.forEach((channel, number) => {
        const own = low[number]!;
        for (let at = 0; at < count; at++) channel[at] = (channel[at]! << shifted) | own[at]!;
      });
    return channels;
  }

  private channel(
    from: BitReader,
    { mode, denominator, history, order, coefficients }: Prediction,
    count: number,
    bits: number,
  ): Int32Array {
    const { mean, history: whole, mostBits } = this.config;
    const samples = new Int32Array(count);
    readResiduals(from, samples, count, bits, { mean, history: (whole * history) >> 2, mostBits });
    if (mode !== 0) samplesOf(samples, count, coefficients, 31, bits, 0);
    samplesOf(samples, count, coefficients, order, bits, denominator);
    return samples;
  }
}

function readPrediction(from: BitReader): Prediction {
  const mode = from.take(4);
  const denominator = from.take(4);
  const history = from.take(3);
  const order = from.take(5);
  const coefficients = new Int16Array(order);
  for (let at = 0; at < order; at++) coefficients[at] = from.take(16);
  return { mode, denominator, history, order, coefficients };
}

/** Low bytes of samples that were written as they are, channel by channel. */
function lowBits(from: BitReader, carries: number, count: number, shifted: number): readonly Int32Array[] {
  const channels = Array.from({ length: carries }, () => new Int32Array(count));
  for (let at = 0; at < count; at++) for (const channel of channels) channel[at] = from.take(shifted);
  return channels;
}

function unmix(channels: readonly Int32Array[], count: number, shift: number, parts: number): void {
  const [first, second] = channels as [Int32Array, Int32Array];
  for (let at = 0; at < count; at++) {
    const difference = second[at]!;
    const left = first[at]! + difference - ((parts * difference) >> shift);
    first[at] = left;
    second[at] = left - difference;
  }
}
