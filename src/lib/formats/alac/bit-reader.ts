/** Bits of a packet, the highest first. Reading beyond its end is an error. */
export class BitReader {
  private at = 0;
  private readonly end: number;

  constructor(private readonly bytes: Uint8Array) {
    this.end = bytes.length * 8;
  }

  get position(): number {
    return this.at;
  }

  /** @param count of bits, at most 32 @throws {RangeError} beyond the end */
  take(count: number): number {
    const value = this.peek(count);
    this.skip(count);
    return value;
  }

  /** Beyond the end, zeros. */
  peek(count: number): number {
    let value = 0;
    let at = this.at;
    let left = count;
    while (left > 0) {
      const free = 8 - (at & 7);
      const take = left < free ? left : free;
      const byte = this.bytes[at >> 3] ?? 0;
      value = value * (1 << take) + ((byte >> (free - take)) & ((1 << take) - 1));
      at += take;
      left -= take;
    }
    return value;
  }

  skip(count: number): void {
    this.at += count;
    if (this.at > this.end) throw new RangeError('the packet ends too soon');
  }

  /** Ones up to the next zero, which is passed; at most so many, and then no zero is passed. */
  ones(most: number): number {
    let count = 0;
    while (count < most && this.take(1) === 1) count++;
    return count;
  }
}
