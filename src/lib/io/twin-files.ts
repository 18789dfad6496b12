/* Twins, in the browser's private file system: a folder for each library, a file for each twin, named by its id. */

import type { TwinId } from '$lib/core/twins';

const FOLDER = 'twins';

async function twinFolder(library: string): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory();
  const all = await root.getDirectoryHandle(FOLDER, { create: true });
  return all.getDirectoryHandle(encodeURIComponent(library), { create: true });
}

/** The place of a twin that is about to be made. */
export async function createTwinFile(library: string, id: TwinId): Promise<FileSystemFileHandle> {
  return (await twinFolder(library)).getFileHandle(id, { create: true });
}

/** A twin's file, or null where it is gone. */
export async function findTwinFile(library: string, id: TwinId): Promise<File | null> {
  try {
    return await (await (await twinFolder(library)).getFileHandle(id)).getFile();
  } catch (error) {
    if (error instanceof DOMException && error.name === 'NotFoundError') return null;
    throw error;
  }
}

export async function dropTwinFile(library: string, id: TwinId): Promise<void> {
  await (await twinFolder(library)).removeEntry(id).catch(() => undefined);
}

/** Lays a twin's file there that lay elsewhere. @throws {DOMException} `QuotaExceededError` where there is no room */
export async function writeTwinFile(library: string, id: TwinId, file: Blob): Promise<void> {
  const handle = await createTwinFile(library, id);
  try {
    await file.stream().pipeTo(await handle.createWritable());
  } catch (error) {
    await dropTwinFile(library, id);
    throw error;
  }
}

/** What lies there, with its bytes: twins, and what was begun and never finished. */
export async function listTwinFiles(library: string): Promise<ReadonlyMap<TwinId, number>> {
  const found = new Map<TwinId, number>();
  for await (const handle of (await twinFolder(library)).values())
    if (handle.kind === 'file') found.set(handle.name as TwinId, (await handle.getFile()).size);
  return found;
}

/** Forgets all twins of a library. Where there is no private file system, there are none. */
export async function clearTwinFiles(library: string): Promise<void> {
  if (!globalThis.navigator?.storage?.getDirectory) return;
  const root = await navigator.storage.getDirectory();
  const all = await root.getDirectoryHandle(FOLDER, { create: true });
  await all.removeEntry(encodeURIComponent(library), { recursive: true }).catch(() => undefined);
}
