import type { FileChange, Guard, OpenOriginal, OriginalJob, OriginalPlace } from '$lib/core/originals';
import { StoreError } from '$lib/core/run';
import { folderOf, nameOf } from '$lib/core/paths';
import { blobSource } from '../blob-source';
import { spanBytes } from '../span-blob';
import type { LibraryStorage } from '../storage/library-storage';
import { told } from './folder-store';

/**
 * The folders that items were taken in from. The browser lets a file become another one only when all of it is
 * written: until then the old one stands, wherever a cut comes.
 */
export class OriginalFolders implements OriginalPlace {
  constructor(private readonly storage: LibraryStorage) {}

  async open(job: OriginalJob): Promise<OpenOriginal> {
    return told(job.path, async () => {
      return opened(job, await (await this.handleOf(job)).getFile());
    });
  }

  async write(job: OriginalJob, { spans, over, length }: FileChange, guard: Guard): Promise<void> {
    await told(job.path, async () => {
      const handle = await this.handleOf(job);
      const file = await handle.getFile();
      const out = await handle.createWritable({ keepExistingData: over !== null });
      try {
        if (over) {
          for (const { at, bytes } of over)
            await out.write({ type: 'write', position: at, data: bytes as Uint8Array<ArrayBuffer> });
          await out.truncate(length);
        } else for await (const bytes of spanBytes(file, spans)) await out.write(bytes);
        // The new file takes its place with the next line: whatever another hand wrote until here stays.
        await guard(opened(job, await handle.getFile()));
        await out.close();
      } catch (error) {
        await out.abort().catch(() => undefined);
        throw error;
      }
    });
  }

  private async handleOf({ source, path }: OriginalJob): Promise<FileSystemFileHandle> {
    const root = await this.storage.handles.find(source);
    if (!root) throw new StoreError('unreachable', path, 'its folder is not known here any more');
    let folder = root;
    for (const part of folderOf(path).split('/')) if (part) folder = await folder.getDirectoryHandle(part);
    return folder.getFileHandle(nameOf(path));
  }
}

function opened({ path }: OriginalJob, file: File): OpenOriginal {
  const { size, read } = blobSource(file);
  return {
    bytes: { size, read: (start, end) => told(path, () => read(start, end)) },
    modified: file.lastModified,
  };
}
