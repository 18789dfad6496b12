/* ZIPs that runs made, in the browser's private file system. */

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
