import { BitWriter } from './bit-writer';
import { COEFFICIENT_SHIFT, DEFAULTS, ELEMENT, FRAME_SAMPLES, bytesShifted, type AlacConfig } from './layout';
import { firstCoefficients, residualsOf } from './predictor';
import { putResiduals } from './residual-coder';

/** Orders of prediction that are tried. */
const ORDERS = [4, 8] as const;
/** Ways to mix two channels that are tried: of `4`, so many parts come from the left. */
const MIXES = [0, 1, 2, 3, 4] as const;
const MIX_SHIFT = 2;
/** Of a frame, the samples by which ways to mix are compared, and orders. */
const MIX_PROBE = FRAME_SAMPLES / 8;
const ORDER_PROBE = FRAME_SAMPLES / 4;
/** How often coefficients go over the beginning of a frame before it is written. */
const ROUNDS = 4;

/** What one channel keeps from frame to frame: what it learnt, by order. */
class Channel {
  readonly mixed = new Int32Array(FRAME_SAMPLES);
  readonly residuals = new Int32Array(FRAME_SAMPLES);
  readonly coefficients = new Map(ORDERS.map((order) => [order as number, firstCoefficients()]));
  order: number = ORDERS[1];
}

/**
 * Packets of Apple Lossless from samples of one channel or two, of 16 or 24 bits. Each frame is written by the mix and
 * the order of prediction that seem shortest, or as it is where that is shorter.
 */
export class AlacEncoder {
  readonly config: AlacConfig;
  private readonly channels = [new Channel(), new Channel()] as const;
  private readonly out: BitWriter;
  private readonly probe: BitWriter;
  private readonly shifted: number;

  /** @throws {RangeError} for what it does not write */
  constructor(channels: number, bits: number, sampleRate: number) {
    if (channels < 1 || channels > 2) throw new RangeError(`${channels} channels are not written`);
    if (bits !== 16 && bits !== 24) throw new RangeError(`samples of ${bits} bits are not written`);
    this.config = { ...DEFAULTS, channels, bits, sampleRate };
    this.shifted = bytesShifted(bits) * 8;
    const most = FRAME_SAMPLES * channels * 5 + 64;
    this.out = new BitWriter(most);
    this.probe = new BitWriter(most);
  }

  /**
   * One packet. @param samples of each channel, one array for each; 4,096, or fewer for the last
   * @throws {RangeError} for another number
   */
  encode(samples: readonly Int32Array[]): Uint8Array<ArrayBuffer> {
    const count = samples[0]?.length ?? 0;
    if (count < 1 || count > FRAME_SAMPLES) throw new RangeError(`a frame of ${count} samples`);
    this.out.clear();
    this.encodeElement(samples, count);
    const plain = this.plainBits(count);
    if (this.out.length >= plain) {
      this.out.clear();
      this.putPlain(samples, count);
    }
    this.out.put(ELEMENT.end, 3);
    return this.out.taken();
  }

  private plainBits(count: number): number {
    const { channels, bits } = this.config;
    return 23 + (count === FRAME_SAMPLES ? 0 : 32) + count * channels * bits;
  }

  private putHead(count: number, isPlain: boolean): void {
    const { out } = this;
    out.put(this.config.channels === 2 ? ELEMENT.pair : ELEMENT.single, 3);
    // Its place among elements of its sort, and bits that are kept for later.
    out.put(0, 16);
    out.put(count === FRAME_SAMPLES ? 0 : 1, 1);
    out.put(isPlain ? 0 : this.shifted / 8, 2);
    out.put(isPlain ? 1 : 0, 1);
    if (count !== FRAME_SAMPLES) out.put(count, 32);
  }

  private putPlain(samples: readonly Int32Array[], count: number): void {
    const { bits } = this.config;
    const mask = 2 ** bits - 1;
    this.putHead(count, true);
    for (let at = 0; at < count; at++) for (const channel of samples) this.out.put(channel[at]! & mask, bits);
  }

  private encodeElement(samples: readonly Int32Array[], count: number): void {
    const { out, shifted } = this;
    const { channels, bits } = this.config;
    const own = bits - shifted + (channels - 1);
    const mix = channels === 2 ? this.bestMix(samples, count, own) : 0;
    this.mix(samples, count, mix);
    const used = this.channels.slice(0, channels);
    for (const channel of used) this.settle(channel, count, own);
    this.putHead(count, false);
    out.put(channels === 2 ? MIX_SHIFT : 0, 8);
    out.put(mix, 8);
    for (const { order, coefficients } of used) {
      out.put(COEFFICIENT_SHIFT, 8);
      out.put((4 << 5) | order, 8);
      const own = coefficients.get(order)!;
      for (let at = 0; at < order; at++) out.put(own[at]! & 0xffff, 16);
    }
    if (shifted > 0) {
      const mask = (1 << shifted) - 1;
      for (let at = 0; at < count; at++) for (const channel of samples) out.put(channel[at]! & mask, shifted);
    }
    for (const { mixed, residuals, order, coefficients } of used) {
      residualsOf(mixed, residuals, count, coefficients.get(order)!, order, own);
      putResiduals(out, residuals, count, own, this.config);
    }
  }

  /** Parts of a mix, without the low bytes that are written as they are. */
  private mix(samples: readonly Int32Array[], count: number, parts: number): void {
    const [first, second] = this.channels;
    const [left, right] = samples as [Int32Array, Int32Array | undefined];
    const { shifted } = this;
    const others = (1 << MIX_SHIFT) - parts;
    for (let at = 0; at < count; at++) {
      const l = left[at]! >> shifted;
      if (!right) {
        first.mixed[at] = l;
        continue;
      }
      const r = right[at]! >> shifted;
      first.mixed[at] = parts === 0 ? l : (parts * l + others * r) >> MIX_SHIFT;
      second.mixed[at] = parts === 0 ? r : l - r;
    }
  }

  private bestMix(samples: readonly Int32Array[], count: number, bits: number): number {
    const probed = Math.min(count, MIX_PROBE);
    let best = 0;
    let least = Infinity;
    for (const parts of MIXES) {
      this.mix(samples, probed, parts);
      const length = this.channels.reduce(
        (sum, channel) => sum + this.lengthOf(channel, channel.order, probed, bits),
        0,
      );
      if (length >= least) continue;
      least = length;
      best = parts;
    }
    return best;
  }

  /** Lets both orders learn the beginning of a frame, and goes on with the one that writes it shorter. */
  private settle(channel: Channel, count: number, bits: number): void {
    const probed = Math.min(count, ORDER_PROBE);
    const { mixed, residuals, coefficients } = channel;
    let least = Infinity;
    for (const order of ORDERS) {
      const own = coefficients.get(order)!;
      for (let round = 0; round < ROUNDS; round++)
        residualsOf(mixed, residuals, Math.min(probed, 256), own, order, bits);
      const length = this.lengthOf(channel, order, probed, bits) + order * 16;
      if (length >= least) continue;
      least = length;
      channel.order = order;
    }
  }

  /** Bits that the beginning of a frame takes, and nothing is learnt. */
  private lengthOf(
    { mixed, residuals, coefficients }: Channel,
    order: number,
    count: number,
    bits: number,
  ): number {
    const own = Int16Array.from(coefficients.get(order)!);
    residualsOf(mixed, residuals, count, own, order, bits);
    this.probe.clear();
    putResiduals(this.probe, residuals, count, bits, this.config);
    return this.probe.length;
  }
}
