import type { SourceId } from '$lib/core/items';
import type { LibraryStorage } from '../storage/library-storage';

/** Why an item's bytes cannot be had now. */
export class OpenError extends Error {
  override readonly name = 'OpenError';
  constructor(
    readonly code: 'noPermission' | 'gone' | 'unknownSource',
    readonly path: string,
  ) {
    super(`${code}: ${path}`);
  }
}

/**
 * The bytes of an item's file, from its folder's handle or from what the browser kept.
 * @throws {OpenError} when the folder waits for permission, or the file is gone
 */
export async function openItem(storage: LibraryStorage, source: SourceId, path: string): Promise<Blob> {
  const handle = await storage.handles.find(source);
  if (handle) return openInFolder(handle, path);
  const kept = await storage.files.find(source, path);
  if (!kept) throw new OpenError('gone', path);
  return kept;
}

async function openInFolder(root: FileSystemDirectoryHandle, path: string): Promise<File> {
  const parts = path.split('/');
  const name = parts.pop() as string;
  try {
    let folder = root;
    for (const part of parts) folder = await folder.getDirectoryHandle(part);
    return await (await folder.getFileHandle(name)).getFile();
  } catch (error) {
    if (error instanceof DOMException && error.name === 'NotAllowedError')
      throw new OpenError('noPermission', path);
    if (error instanceof DOMException) throw new OpenError('gone', path);
    throw error;
  }
}

/** Whether a folder may be read now. The private file system knows no permissions and always may. */
export async function mayRead(handle: FileSystemDirectoryHandle): Promise<boolean> {
  const state = await handle.queryPermission?.({ mode: 'read' });
  return state === undefined || state === 'granted';
}

/** Whether files of a folder may be changed now. */
export async function mayChange(handle: FileSystemDirectoryHandle): Promise<boolean> {
  const state = await handle.queryPermission?.({ mode: 'readwrite' });
  return state === undefined || state === 'granted';
}

/** Asks whether files of a folder may be changed; must follow a click. */
export async function askToWrite(handle: FileSystemDirectoryHandle): Promise<boolean> {
  const state = await handle.requestPermission?.({ mode: 'readwrite' });
  return state === undefined || state === 'granted';
}

/** Asks for a folder again; must follow a click. */
export async function askToRead(handle: FileSystemDirectoryHandle): Promise<boolean> {
  return (await handle.requestPermission?.({ mode: 'read' })) !== 'denied';
}
