import { memorySource } from '../bytes';
import { folderOf } from '../items';
import { HOLD_FOLDER, StoreError, type Store } from './store';

/** A place in memory: for dry runs in tests, and the plainest reading of what a store must do. */
export class MemoryStore implements Store<Uint8Array> {
  readonly files = new Map<string, Uint8Array>();
  readonly folders = new Set<string>();

  async list() {
    return [...this.files]
      .filter(([path]) => !path.startsWith(`${HOLD_FOLDER}/`))
      .map(([path, bytes]) => ({ path, size: bytes.length, digest: null }));
  }

  async makeFolder(path: string) {
    for (let at = path; at !== ''; at = folderOf(at)) this.folders.add(at);
  }

  async write(path: string, content: Uint8Array) {
    if (this.files.has(path)) throw new StoreError('exists', path);
    await this.makeFolder(folderOf(path));
    this.files.set(path, content);
    return { size: content.length, digest: null };
  }

  async move(from: string, to: string) {
    const bytes = this.files.get(from);
    if (!bytes) throw new StoreError('gone', from);
    if (this.files.has(to)) throw new StoreError('exists', to);
    await this.makeFolder(folderOf(to));
    this.files.set(to, bytes);
    this.files.delete(from);
  }

  async remove(path: string) {
    if (!this.files.delete(path)) throw new StoreError('gone', path);
  }

  async removeEmptyFolder(path: string) {
    const inside = [...this.files.keys(), ...this.folders].some((other) => other.startsWith(`${path}/`));
    if (!inside) this.folders.delete(path);
  }

  async find(path: string) {
    const bytes = this.files.get(path);
    return bytes ? { path, size: bytes.length, digest: null } : null;
  }

  async read(path: string) {
    const bytes = this.files.get(path);
    if (!bytes) throw new StoreError('gone', path);
    return memorySource(bytes);
  }
}
