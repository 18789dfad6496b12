import type { ByteSource } from '$lib/core/bytes';
import { FormatError, MOST_READ_BYTES } from '../format';

/** Reads of one file's blocks; each costs its time, however small. */
const MOST_READS = 20_000;

/** A source that counts what is read of it, and stops a file that asks for more than any real one. */
export class MeteredSource implements ByteSource {
  readonly size: number;
  private bytes = 0;
  private reads = 0;

  constructor(private readonly inner: ByteSource) {
    this.size = inner.size;
  }

  /** @throws {FormatError} `tooMuch` */
  async read(start: number, end: number): Promise<Uint8Array> {
    this.bytes += Math.max(0, Math.min(end, this.size) - start);
    this.reads++;
    if (this.bytes > MOST_READ_BYTES)
      throw new FormatError('tooMuch', `over ${MOST_READ_BYTES / 1_048_576} MiB of tags and tables`);
    if (this.reads > MOST_READS) throw new FormatError('tooMuch', `over ${MOST_READS} reads`);
    return this.inner.read(start, end);
  }
}
