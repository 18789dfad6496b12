/** Bits, the highest first, into bytes that grow as need be. */
export class BitWriter {
  private bytes: Uint8Array<ArrayBuffer>;
  /** Bits that are written. */
  length = 0;

  constructor(capacity: number) {
    this.bytes = new Uint8Array(capacity);
  }

  clear(): void {
    this.bytes.fill(0, 0, (this.length + 7) >> 3);
    this.length = 0;
  }

  /** @param count of bits, at most 32; `value` is no larger than they hold */
  put(value: number, count: number): void {
    const { length } = this;
    if ((length + count + 7) >> 3 > this.bytes.length) this.grow();
    const { bytes } = this;
    let left = count;
    let at = length;
    while (left > 0) {
      const free = 8 - (at & 7);
      const take = left < free ? left : free;
      const part = (value >>> (left - take)) & ((1 << take) - 1);
      bytes[at >> 3]! |= part << (free - take);
      at += take;
      left -= take;
    }
    this.length = at;
  }

  /** All that was written, the last byte filled with zeros. */
  taken(): Uint8Array<ArrayBuffer> {
    return this.bytes.slice(0, (this.length + 7) >> 3);
  }

  private grow(): void {
    const larger = new Uint8Array(this.bytes.length * 2);
    larger.set(this.bytes);
    this.bytes = larger;
  }
}
