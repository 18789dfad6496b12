import { AbstractTokenizer, EndOfStreamError, type IReadChunkOptions } from 'strtok3';
import type { ByteSource } from '$lib/core/bytes';
import { FormatError } from '$lib/formats';

/** Steps that the parsing package may take through one file: about a second's worth. */
const MOST_STEPS = 40_000;

/** The parsing package's view of a byte source: random access, block by block, and not without end. */
export class SourceTokenizer extends AbstractTokenizer {
  override readonly fileInfo: { size: number; path: string };
  private steps = 0;

  constructor(
    private readonly source: ByteSource,
    path: string,
  ) {
    super();
    this.fileInfo = { size: source.size, path };
  }

  /** The file asked for more steps than it is given; whatever the package made of that does not count. */
  get isExhausted(): boolean {
    return this.steps > MOST_STEPS;
  }

  override supportsRandomAccess(): boolean {
    return true;
  }

  setPosition(position: number): void {
    this.position = position;
  }

  override async ignore(length: number): Promise<number> {
    this.step();
    return super.ignore(length);
  }

  override async readBuffer(target: Uint8Array, options?: IReadChunkOptions): Promise<number> {
    if (options?.position !== undefined) this.position = options.position;
    const read = await this.peekBuffer(target, options);
    this.position += read;
    return read;
  }

  override async peekBuffer(target: Uint8Array, options?: IReadChunkOptions): Promise<number> {
    this.step();
    const { length, position, mayBeLess } = this.normalizeOptions(target, options);
    const bytes = await this.source.read(position, position + length);
    if (bytes.length < length && !mayBeLess) throw new EndOfStreamError();
    target.set(bytes);
    return bytes.length;
  }

  private step(): void {
    this.steps++;
    if (this.isExhausted) throw new FormatError('tooMuch', `over ${MOST_STEPS} steps through its structure`);
  }
}
