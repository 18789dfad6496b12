/** A folder in memory that stands in for a directory handle: as much of one as walking and watching ask for. */
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

  async isSameEntry(other: unknown): Promise<boolean> {
    return other === this;
  }

  asHandle(): FileSystemDirectoryHandle {
    return this as unknown as FileSystemDirectoryHandle;
  }
}

export class MemoryFile {
  readonly kind = 'file';
  constructor(
    readonly name: string,
    readonly content: BlobPart,
    readonly modified: number,
  ) {}

  async getFile(): Promise<File> {
    return new File([this.content], this.name, { lastModified: this.modified });
  }
}
