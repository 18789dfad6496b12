import type { FileSink } from '../../src/lib/formats/file-sink';

/** A file that is written in memory. */
export class MemorySink implements FileSink {
  bytes = new Uint8Array(0);

  write(bytes: Uint8Array, position: number): void {
    const grown = new Uint8Array(Math.max(this.bytes.length, position + bytes.length));
    grown.set(this.bytes);
    grown.set(bytes, position);
    this.bytes = grown;
  }
}
