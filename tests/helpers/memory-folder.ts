import { concat } from '../../src/lib/core/bytes';

const fault = (name: string, path: string) => new DOMException(path, name);

/** A folder in memory that stands in for a directory handle: as much of one as walking, watching and writing ask for. */
export class MemoryFolder {
  readonly kind = 'directory';
  readonly children = new Map<string, MemoryFolder | MemoryFile>();
  /** Thrown by every look into it, as when the folder is gone or shut. */
  failure: DOMException | null = null;

  constructor(readonly name: string) {}

  /** Puts a file at a path below, making folders on the way. */
  put(path: string, content: BlobPart, modified = 1): this {
    const parts = path.split('/');
    const name = parts.pop() as string;
    const folder = parts.reduce<MemoryFolder>((at, part) => {
      const inner = at.children.get(part) ?? new MemoryFolder(part);
      at.children.set(part, inner);
      return inner as MemoryFolder;
    }, this);
    folder.children.set(name, new MemoryFile(name, content, modified));
    return this;
  }

  /** Takes a file out and answers with it. */
  take(path: string): MemoryFile {
    const parts = path.split('/');
    const name = parts.pop() as string;
    const folder = parts.reduce<MemoryFolder>((at, part) => at.children.get(part) as MemoryFolder, this);
    const file = folder.children.get(name) as MemoryFile;
    folder.children.delete(name);
    return file;
  }

  async *values(): AsyncGenerator<MemoryFolder | MemoryFile> {
    if (this.failure) throw this.failure;
    yield* this.children.values();
  }

  async getDirectoryHandle(name: string, options: { create?: boolean } = {}): Promise<MemoryFolder> {
    const found = this.children.get(name) ?? (options.create ? new MemoryFolder(name) : null);
    if (!found) throw fault('NotFoundError', name);
    if (found.kind === 'file') throw fault('TypeMismatchError', name);
    this.children.set(name, found);
    return found;
  }

  async getFileHandle(name: string, options: { create?: boolean } = {}): Promise<MemoryFile> {
    const found = this.children.get(name) ?? (options.create ? new MemoryFile(name, '', 1) : null);
    if (!found) throw fault('NotFoundError', name);
    if (found.kind === 'directory') throw fault('TypeMismatchError', name);
    this.children.set(name, found);
    found.parent = this;
    return found;
  }

  async removeEntry(name: string): Promise<void> {
    const found = this.children.get(name);
    if (!found) throw fault('NotFoundError', name);
    if (found.kind === 'directory' && found.children.size > 0) throw fault('InvalidModificationError', name);
    this.children.delete(name);
  }

  async isSameEntry(other: unknown): Promise<boolean> {
    return other === this;
  }

  asHandle(): FileSystemDirectoryHandle {
    return this as unknown as FileSystemDirectoryHandle;
  }
}

export class MemoryFile {
  readonly kind = 'file';
  /** The folder that it was opened from. */
  parent: MemoryFolder | null = null;

  constructor(
    public name: string,
    public content: BlobPart,
    readonly modified: number,
  ) {}

  /** What will be written takes its place when the stream is closed, and not before. */
  async createWritable(): Promise<WritableStream<Uint8Array<ArrayBuffer>>> {
    const pieces: Uint8Array<ArrayBuffer>[] = [];
    return new WritableStream({
      write: (piece) => {
        pieces.push(piece);
      },
      close: () => {
        this.content = concat(pieces) as Uint8Array<ArrayBuffer>;
      },
    });
  }

  /** Like a browser's, it writes over what has that name. */
  async move(folder: MemoryFolder, name: string): Promise<void> {
    if (this.parent?.children.get(this.name) !== this) throw fault('NotFoundError', this.name);
    this.parent.children.delete(this.name);
    this.name = name;
    this.parent = folder;
    folder.children.set(name, this);
  }

  async getFile(): Promise<File> {
    return new File([this.content], this.name, { lastModified: this.modified });
  }
}
