/** A half-open range of bytes. */
export interface ByteRange {
  readonly start: number;
  readonly end: number;
}

/**
 * Bytes that can be read by ranges, wherever they live: a file, an answer over HTTP, a buffer.
 * Parsers take this and never a whole file.
 */
export interface ByteSource {
  /** Length in bytes. */
  readonly size: number;
  /**
   * Bytes of the half-open range [start, end), cut short where the source ends.
   * @throws whatever the underlying place throws if it cannot be read
   */
  read(start: number, end: number): Promise<Uint8Array>;
  /** The same for a few bytes, without reading a whole block for them. */
  skim?(start: number, end: number): Promise<Uint8Array>;
}

/** A few bytes in passing, from a source that may or may not read by blocks. */
export function skim(source: ByteSource, start: number, end: number): Promise<Uint8Array> {
  return source.skim ? source.skim(start, end) : source.read(start, end);
}

/** Parts whose surroundings are worth having: what follows the first few is read next. */
const WORTH_A_BLOCK = 16;

/** The beginning of the `index`th of many parts: by blocks while there are few, in passing when there are many. */
export function readPartHead(
  source: ByteSource,
  index: number,
  start: number,
  end: number,
): Promise<Uint8Array> {
  return index < WORTH_A_BLOCK ? source.read(start, end) : skim(source, start, end);
}

/** A source over bytes already in memory. */
export function memorySource(bytes: Uint8Array): ByteSource {
  return {
    size: bytes.length,
    read: async (start, end) => bytes.subarray(start, Math.min(end, bytes.length)),
  };
}

/** A source made of ranges of another and bytes in memory, in sequence. There may be very many. */
export function joinedSource(inner: ByteSource, parts: readonly (Uint8Array | ByteRange)[]): ByteSource {
  const starts: number[] = [];
  let size = 0;
  for (const part of parts) {
    starts.push(size);
    size += part instanceof Uint8Array ? part.length : part.end - part.start;
  }
  return {
    size,
    async read(start, end) {
      const stop = Math.min(end, size);
      const out = new Uint8Array(Math.max(0, stop - start));
      for (let index = lastAtOrBefore(starts, start); index < parts.length; index++) {
        const [part, base] = [parts[index] as Uint8Array | ByteRange, starts[index] as number];
        if (base >= stop) break;
        const [from, to] = [Math.max(start - base, 0), Math.min(stop, starts[index + 1] ?? size) - base];
        if (to <= from) continue;
        const bytes =
          part instanceof Uint8Array
            ? part.subarray(from, to)
            : await inner.read(part.start + from, part.start + to);
        out.set(bytes, base + from - start);
      }
      return out;
    },
  };
}

/** The index of the last of ascending numbers that is not above a value; 0 if all are. */
export function lastAtOrBefore(rising: readonly number[], value: number): number {
  let [low, high] = [0, rising.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((rising[middle] as number) <= value) low = middle;
    else high = middle - 1;
  }
  return Math.max(0, low);
}

/**
 * A source that reads `inner` in aligned blocks and keeps the newest of them, since parsers take
 * many tiny steps and every slice of a file costs far more than its bytes.
 * @param blockBytes size of a block in bytes
 * @param keep how many blocks stay in memory
 */
export function cachedSource(inner: ByteSource, blockBytes = 65_536, keep = 16): CachedSource {
  return new CachedSource(inner, blockBytes, keep);
}

export class CachedSource implements ByteSource {
  readonly size: number;
  /** Bytes fetched from the inner source so far. */
  bytesFetched = 0;
  private readonly blocks = new Map<number, Promise<Uint8Array>>();

  constructor(
    private readonly inner: ByteSource,
    private readonly blockBytes: number,
    private readonly keep: number,
  ) {
    this.size = inner.size;
  }

  async read(start: number, end: number): Promise<Uint8Array> {
    const stop = Math.min(end, this.size);
    if (stop <= start) return new Uint8Array(0);
    const first = Math.floor(start / this.blockBytes);
    const last = Math.floor((stop - 1) / this.blockBytes);
    if (last - first >= this.keep) {
      // A range wider than the cache would only push out what is worth keeping.
      this.bytesFetched += stop - start;
      return this.inner.read(start, stop);
    }
    if (first === last) {
      const block = await this.block(first);
      return block.subarray(start - first * this.blockBytes, stop - first * this.blockBytes);
    }
    const joined = new Uint8Array(stop - start);
    for (let index = first; index <= last; index++) {
      const base = index * this.blockBytes;
      const block = await this.block(index);
      const from = Math.max(start, base);
      joined.set(block.subarray(from - base, Math.min(stop, base + block.length) - base), from - start);
    }
    return joined;
  }

  async skim(start: number, end: number): Promise<Uint8Array> {
    const stop = Math.min(end, this.size);
    if (stop <= start) return new Uint8Array(0);
    const first = Math.floor(start / this.blockBytes);
    const isKnown = first === Math.floor((stop - 1) / this.blockBytes) && this.blocks.has(first);
    if (isKnown) return this.read(start, stop);
    this.bytesFetched += stop - start;
    return this.inner.read(start, stop);
  }

  private block(index: number): Promise<Uint8Array> {
    const known = this.blocks.get(index);
    if (known) return known;
    const start = index * this.blockBytes;
    const end = Math.min(start + this.blockBytes, this.size);
    this.bytesFetched += end - start;
    const fetched = this.inner.read(start, end);
    this.blocks.set(index, fetched);
    if (this.blocks.size > this.keep) {
      const oldest = this.blocks.keys().next().value;
      if (oldest !== undefined) this.blocks.delete(oldest);
    }
    return fetched;
  }
}
