import { AbstractTokenizer, EndOfStreamError, type IReadChunkOptions } from 'strtok3';
import type { ByteSource } from '$lib/core/bytes';

/** The parsing package's view of a byte source: random access, block by block. */
export class SourceTokenizer extends AbstractTokenizer {
  override readonly fileInfo: { size: number; path: string };

  constructor(
    private readonly source: ByteSource,
    path: string,
    /** Keeps the package from looking for tags at the end of the file, which it does wherever it can. */
    private readonly headOnly = false,
  ) {
    super();
    this.fileInfo = { size: source.size, path };
  }

  override supportsRandomAccess(): boolean {
    return !this.headOnly;
  }

  setPosition(position: number): void {
    this.position = position;
  }

  override async readBuffer(target: Uint8Array, options?: IReadChunkOptions): Promise<number> {
    if (options?.position !== undefined) this.position = options.position;
    const read = await this.peekBuffer(target, options);
    this.position += read;
    return read;
  }

  override async peekBuffer(target: Uint8Array, options?: IReadChunkOptions): Promise<number> {
    const { length, position, mayBeLess } = this.normalizeOptions(target, options);
    const bytes = await this.source.read(position, position + length);
    if (bytes.length < length && !mayBeLess) throw new EndOfStreamError();
    target.set(bytes);
    return bytes.length;
  }
}
