import type { ByteSource } from '$lib/core/bytes';
import { folderOf, nameOf } from '$lib/core/paths';
import type { ThereFile } from '$lib/core/plan';
import { type TargetRoom, StoreError, type Store, type WrittenFile } from '$lib/core/run';
import { blobSource } from '../blob-source';
import { hashingStream } from '../digest';

const PART = '.lectorum-part';
/** What the browser itself writes into, and leaves behind where it is ended. */
const SWAP = '.crswap';

/** A real chosen folder. Files get their names only once all of their bytes are there. */
export class FolderStore implements Store<Blob> {
  private readonly folders = new Map<string, FileSystemDirectoryHandle>();

  constructor(private readonly root: FileSystemDirectoryHandle) {}

  async room(): Promise<TargetRoom | null> {
    return null;
  }

  async list(): Promise<readonly ThereFile[]> {
    const files: ThereFile[] = [];
    const walk = async (folder: FileSystemDirectoryHandle, below: string): Promise<void> => {
      for await (const entry of folder.values()) {
        if (entry.name.startsWith('.')) continue;
        if (entry.kind === 'directory') await walk(entry, `${below}${entry.name}/`);
        else if (!entry.name.endsWith(PART) && !entry.name.endsWith(SWAP)) {
          const { size, lastModified } = await entry.getFile();
          files.push({ path: below + entry.name, size, digest: null, modified: lastModified });
        }
      }
    };
    await told('', () => walk(this.root, ''));
    return files;
  }

  async listHeld(folder: string): Promise<readonly ThereFile[]> {
    if (!(await this.hasFolder(folder))) return [];
    return told(folder, async () => {
      const files: ThereFile[] = [];
      for await (const entry of (await this.open(folder)).values()) {
        if (entry.kind === 'directory' || entry.name.endsWith(PART) || entry.name.endsWith(SWAP)) continue;
        const { size } = await entry.getFile();
        files.push({ path: `${folder}/${entry.name}`, size, digest: null });
      }
      return files;
    });
  }

  async makeFolder(path: string): Promise<void> {
    await told(path, () => this.folder(path, true));
  }

  async hasFolder(path: string): Promise<boolean> {
    try {
      await this.open(path);
      return true;
    } catch (error) {
      if (isAbsent(error)) return false;
      return told(path, () => Promise.reject(error));
    }
  }

  async write(path: string, content: Blob): Promise<WrittenFile> {
    if (await this.find(path)) throw new StoreError('exists', path);
    return told(path, async () => {
      const folder = await this.folder(folderOf(path), true);
      const part = await folder.getFileHandle(`${nameOf(path)}${PART}`, { create: true });
      try {
        const { through, digest } = await hashingStream();
        await content
          .stream()
          .pipeThrough(through)
          .pipeTo(await part.createWritable());
        // A rename writes over what came there in the meantime, so it is looked for once more.
        if (await this.find(path)) throw new StoreError('exists', path);
        await part.move(folder, nameOf(path));
        return { size: content.size, digest: digest() };
      } catch (error) {
        await folder.removeEntry(`${nameOf(path)}${PART}`).catch(() => undefined);
        throw error;
      }
    });
  }

  async move(from: string, to: string): Promise<void> {
    if (await this.find(to)) throw new StoreError('exists', to);
    await told(from, async () => {
      const file = await (await this.folder(folderOf(from))).getFileHandle(nameOf(from));
      await file.move(await this.folder(folderOf(to), true), nameOf(to));
    });
  }

  async remove(path: string): Promise<void> {
    await told(path, async () => (await this.folder(folderOf(path))).removeEntry(nameOf(path)));
  }

  async removeEmptyFolder(path: string): Promise<void> {
    try {
      const parent = await this.folder(folderOf(path));
      // Without `recursive` the browser refuses to remove a folder that holds something.
      await parent.removeEntry(nameOf(path));
      this.folders.clear();
    } catch (error) {
      if (!(error instanceof DOMException)) throw error;
    }
  }

  async find(path: string): Promise<ThereFile | null> {
    try {
      const handle = await (await this.folder(folderOf(path))).getFileHandle(nameOf(path));
      return { path, size: (await handle.getFile()).size, digest: null };
    } catch (error) {
      if (isAbsent(error)) return null;
      return told(path, () => Promise.reject(error));
    }
  }

  async read(path: string): Promise<ByteSource> {
    return told(path, async () => {
      const handle = await (await this.folder(folderOf(path))).getFileHandle(nameOf(path));
      return blobSource(await handle.getFile());
    });
  }

  /** Opens a folder afresh: one that is remembered may have gone. */
  private async open(path: string): Promise<FileSystemDirectoryHandle> {
    if (path === '') return this.root;
    return (await this.open(folderOf(path))).getDirectoryHandle(nameOf(path));
  }

  private async folder(path: string, create = false): Promise<FileSystemDirectoryHandle> {
    if (path === '') return this.root;
    const known = this.folders.get(path);
    if (known) return known;
    const parent = await this.folder(folderOf(path), create);
    const folder = await parent.getDirectoryHandle(nameOf(path), { create });
    this.folders.set(path, folder);
    return folder;
  }
}

const isAbsent = (error: unknown) =>
  error instanceof DOMException && (error.name === 'NotFoundError' || error.name === 'TypeMismatchError');

const CODES: Readonly<Record<string, StoreError['code']>> = {
  QuotaExceededError: 'full',
  NotAllowedError: 'notAllowed',
  NotFoundError: 'gone',
  NotReadableError: 'unreadable',
  TypeMismatchError: 'refused',
  InvalidModificationError: 'refused',
  NoModificationAllowedError: 'notAllowed',
  TypeError: 'refused',
};

/** Says the browser's refusals in the words of stores. */
export async function told<T>(path: string, act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (error) {
    if (error instanceof StoreError) throw error;
    if (error instanceof DOMException || error instanceof TypeError)
      throw new StoreError(CODES[error.name] ?? 'refused', path, error.message);
    throw error;
  }
}
