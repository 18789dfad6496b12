import { BlobReader, ZipWriter } from '@zip.js/zip.js/lib/zip-core-external.js';
import type { ByteSource } from '$lib/core/bytes';
import type { ThereFile } from '$lib/core/plan';
import { StoreError, type Holding, type Store, type TargetRoom, type WrittenFile } from '$lib/core/run';
import { blobSource } from '../blob-source';
import { digestOf } from '../digest';

/**
 * A ZIP, streamed into the browser's private file system while the run goes, so that memory does not
 * grow with it; once closed it can be downloaded. It begins empty and only grows: nothing in it is
 * moved or removed, so its run is taken back by throwing the ZIP away. What is not proven yet waits
 * outside and goes into the ZIP when it is moved to its place.
 */
export class ZipStore implements Store<Blob> {
  private readonly files = new Map<string, Blob>();
  /** What waits for its place. */
  private readonly staged = new Map<string, Blob>();
  private readonly zip: ZipWriter<unknown>;
  private failure: unknown = null;
  /** No path begins with a slash. */
  readonly holding: Holding = {
    stage: (_run, path) => `/${path}`,
    hold: (_run, step, path) => `/${step}/${path}`,
    release: async () => {},
    clear: async () => {},
  };

  /** @param target where the ZIP is written */
  constructor(target: FileSystemWritableFileStream) {
    // What it holds is compressed already, or small.
    this.zip = new ZipWriter(target, { level: 0, useWebWorkers: false });
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
    if (path.startsWith('/')) this.staged.set(path, content);
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
    try {
      // What came before a failure cannot be told from what did not: nothing more goes into such a ZIP.
      if (this.failure) throw this.failure;
      await this.zip.add(path, new BlobReader(content));
    } catch (error) {
      this.failure = error;
      throw new StoreError(isQuota(error) ? 'full' : 'refused', path, String(error));
    }
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
    try {
      if (this.failure) throw this.failure;
      await this.zip.close();
    } catch (error) {
      throw new StoreError(isQuota(error) ? 'full' : 'refused', '', String(error));
    }
  }
}

const isQuota = (error: unknown) => error instanceof DOMException && error.name === 'QuotaExceededError';
