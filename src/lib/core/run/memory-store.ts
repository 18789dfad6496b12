import { memorySource, type ByteSource } from '../bytes';
import { folderOf, nameOf } from '../paths';
import { foldCase } from '../naming';
import { HOLD_FOLDER, type ThereFile } from '../plan';
import { StoreError, type TargetRoom, type Store } from './store';

export interface MemoryStoreOptions {
  /** Names that differ in letter case alone are one name. */
  readonly caseBlind: boolean;
  /** The place keeps digests of its files. */
  readonly digests: boolean;
  readonly digest: (bytes: Uint8Array) => string;
}

interface Entry {
  readonly path: string;
  readonly bytes: Uint8Array;
}

/** A place in memory, for dry runs in tests. It is also the simplest reference for what a store must do. */
export class MemoryStore implements Store<Uint8Array> {
  private readonly entries = new Map<string, Entry>();
  private readonly dirs = new Map<string, string>();

  constructor(
    private readonly options: MemoryStoreOptions = {
      caseBlind: false,
      digests: false,
      digest: (bytes) => `${bytes.length}:${bytes.join(',')}`,
    },
  ) {}

  async room(): Promise<TargetRoom | null> {
    return null;
  }

  /** All files, including held ones. */
  get files(): ReadonlyMap<string, Uint8Array> {
    return new Map([...this.entries.values()].map(({ path, bytes }) => [path, bytes]));
  }

  get folders(): readonly string[] {
    return [...this.dirs.values()];
  }

  /** Puts a file there past all rules, as another hand would. */
  put(path: string, bytes: Uint8Array): void {
    this.addFolders(folderOf(path));
    const key = this.key(path);
    this.entries.set(key, { path: this.entries.get(key)?.path ?? this.spelled(path), bytes });
  }

  async list(): Promise<readonly ThereFile[]> {
    return [...this.entries.values()]
      .filter(({ path }) => !path.startsWith(`${HOLD_FOLDER}/`))
      .map((entry) => this.describe(entry));
  }

  async listHeld(folder: string): Promise<readonly ThereFile[]> {
    return [...this.entries.values()]
      .filter(({ path }) => folderOf(path) === folder)
      .map((entry) => this.describe(entry));
  }

  async makeFolder(path: string): Promise<void> {
    for (let at = path; at !== ''; at = folderOf(at))
      if (this.entries.has(this.key(at))) throw new StoreError('exists', at);
    this.addFolders(path);
  }

  async hasFolder(path: string): Promise<boolean> {
    return this.dirs.has(this.key(path));
  }

  async write(path: string, content: Uint8Array): Promise<{ size: number; digest: string }> {
    await this.free(path);
    this.put(path, content);
    return { size: content.length, digest: this.options.digest(content) };
  }

  async move(from: string, to: string): Promise<void> {
    const entry = this.entries.get(this.key(from));
    if (!entry) throw new StoreError('gone', from);
    await this.free(to);
    this.entries.delete(this.key(from));
    this.put(to, entry.bytes);
  }

  async remove(path: string): Promise<void> {
    if (!this.entries.delete(this.key(path))) throw new StoreError('gone', path);
  }

  async removeEmptyFolder(path: string): Promise<void> {
    const below = `${this.key(path)}/`;
    for (const keys of [this.entries.keys(), this.dirs.keys()])
      for (const key of keys) if (key.startsWith(below)) return;
    this.dirs.delete(this.key(path));
  }

  async find(path: string): Promise<ThereFile | null> {
    const entry = this.entries.get(this.key(path));
    return entry ? this.describe(entry) : null;
  }

  async read(path: string): Promise<ByteSource> {
    const entry = this.entries.get(this.key(path));
    if (!entry) throw new StoreError('gone', path);
    return memorySource(entry.bytes);
  }

  private describe({ path, bytes }: Entry): ThereFile {
    const { digests, digest } = this.options;
    return { path, size: bytes.length, digest: digests ? digest(bytes) : null };
  }

  private async free(path: string): Promise<void> {
    if (this.entries.has(this.key(path))) throw new StoreError('exists', path);
    if (this.dirs.has(this.key(path))) throw new StoreError('refused', path, 'a folder stands there');
    await this.makeFolder(folderOf(path));
  }

  private addFolders(path: string): void {
    if (path === '' || this.dirs.has(this.key(path))) return;
    this.addFolders(folderOf(path));
    this.dirs.set(this.key(path), this.spelled(path));
  }

  /** A path as the folders above it are spelled. */
  private spelled(path: string): string {
    const folder = folderOf(path);
    return folder === '' ? path : `${this.dirs.get(this.key(folder)) ?? folder}/${nameOf(path)}`;
  }

  private key(path: string): string {
    return this.options.caseBlind ? foldCase(path) : path;
  }
}
