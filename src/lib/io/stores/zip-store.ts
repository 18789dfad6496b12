import { makeZip } from 'client-zip';
import type { ByteSource } from '$lib/core/bytes';
import { HOLD_FOLDER, type ThereFile } from '$lib/core/plan';
import { type TargetRoom, StoreError, type Store, type WrittenFile } from '$lib/core/run';
import { blobSource } from '../blob-source';
import { digestOf } from '../digest';

interface Entry {
  readonly name: string;
  readonly input: Blob;
  readonly taken: () => void;
}

/**
 * A ZIP, streamed into the browser's private file system while the run goes, so that memory does not
 * grow with it; once closed it can be downloaded. It begins empty and only grows: nothing in it is
 * moved or removed, so its run is taken back by throwing the ZIP away. What is written into a run's own
 * folder waits outside and goes into the ZIP when it is moved to its place.
 */
export class ZipStore implements Store<Blob> {
  private readonly files = new Map<string, Blob>();
  /** What waits for its place. */
  private readonly staged = new Map<string, Blob>();
  private readonly queue: Entry[] = [];
  private current: Entry | null = null;
  private wake: () => void = () => undefined;
  private closed = false;
  private readonly written: Promise<void>;
  private failure: unknown = null;

  /** @param target where the ZIP is written */
  constructor(target: FileSystemWritableFileStream) {
    this.written = makeZip(this.entries()).pipeTo(target);
    this.written.catch((error: unknown) => {
      this.failure = error;
      this.current?.taken();
      for (const entry of this.queue.splice(0)) entry.taken();
    });
  }

  async room(): Promise<TargetRoom | null> {
    return null;
  }

  async list(): Promise<readonly ThereFile[]> {
    return [];
  }

  async listHeld(): Promise<readonly ThereFile[]> {
    return [];
  }

  async makeFolder(): Promise<void> {
    // Folders come with their files; an empty one has nothing to say.
  }

  async hasFolder(): Promise<boolean> {
    return true;
  }

  async write(path: string, content: Blob): Promise<WrittenFile> {
    if (this.contentOf(path)) throw new StoreError('exists', path);
    if (path.startsWith(`${HOLD_FOLDER}/`)) this.staged.set(path, content);
    else await this.append(path, content);
    return { size: content.size, digest: await digestOf(blobSource(content)) };
  }

  async move(from: string, to: string): Promise<void> {
    const content = this.staged.get(from);
    if (!content) throw new StoreError(this.files.has(from) ? 'refused' : 'gone', from);
    if (this.contentOf(to)) throw new StoreError('exists', to);
    await this.append(to, content);
    this.staged.delete(from);
  }

  async remove(path: string): Promise<void> {
    if (!this.staged.delete(path)) throw new StoreError(this.files.has(path) ? 'refused' : 'gone', path);
  }

  private contentOf(path: string): Blob | undefined {
    return this.files.get(path) ?? this.staged.get(path);
  }

  private async append(path: string, content: Blob): Promise<void> {
    await new Promise<void>((taken) => {
      this.queue.push({ name: path, input: content, taken });
      this.wake();
    });
    if (this.failure)
      throw new StoreError(isQuota(this.failure) ? 'full' : 'refused', path, String(this.failure));
    this.files.set(path, content);
  }

  async removeEmptyFolder(): Promise<void> {
    // There are no folders of its own.
  }

  async find(path: string): Promise<ThereFile | null> {
    const content = this.contentOf(path);
    return content ? { path, size: content.size, digest: null } : null;
  }

  async read(path: string): Promise<ByteSource> {
    const content = this.contentOf(path);
    if (!content) throw new StoreError('gone', path);
    return blobSource(content);
  }

  /** Writes the ZIP's directory. Afterwards it is whole. @throws {StoreError} when the disk ran full */
  async close(): Promise<void> {
    this.closed = true;
    this.wake();
    try {
      await this.written;
    } catch (error) {
      throw new StoreError(isQuota(error) ? 'full' : 'refused', '', String(error));
    }
  }

  /** Hands entries to the ZIP one by one; an entry counts as written when the next one is asked for. */
  private async *entries(): AsyncGenerator<{ name: string; input: Blob }> {
    for (;;) {
      const entry = this.queue.shift();
      if (entry) {
        this.current = entry;
        yield { name: entry.name, input: entry.input };
        entry.taken();
      } else if (this.closed) return;
      else await new Promise<void>((resolve) => (this.wake = resolve));
    }
  }
}

const isQuota = (error: unknown) => error instanceof DOMException && error.name === 'QuotaExceededError';

const ZIP_FOLDER = 'zips';

async function zipFolder(): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory();
  return root.getDirectoryHandle(ZIP_FOLDER, { create: true });
}

/** The place of a run's ZIP in the private file system; what an earlier run left there goes. */
export async function createZipFile(name: string): Promise<FileSystemFileHandle> {
  await dropZip(name);
  return (await zipFolder()).getFileHandle(name, { create: true });
}

/** A finished ZIP, or null when there is none. */
export async function findZip(name: string): Promise<File | null> {
  try {
    return await (await (await zipFolder()).getFileHandle(name)).getFile();
  } catch (error) {
    if (error instanceof DOMException && error.name === 'NotFoundError') return null;
    throw error;
  }
}

export async function dropZip(name: string): Promise<void> {
  await (await zipFolder()).removeEntry(name).catch(() => undefined);
}
