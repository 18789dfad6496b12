/** Where a file is written, at places of its own. */
export interface FileSink {
  /** @param position of the first byte in the file */
  write(bytes: Uint8Array<ArrayBuffer>, position: number): void | Promise<void>;
}
