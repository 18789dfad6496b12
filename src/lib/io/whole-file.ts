/** Writes bytes at a place of a file. @param position of the first of them, in bytes */
export type WriteAt = (bytes: Uint8Array<ArrayBuffer>, position: number) => void;

const full = () => new DOMException('the browser keeps no more', 'QuotaExceededError');

/**
 * A file of the browser's private file system, once all was written into it. A full disk shows in what a write answers, or
 * only in what is left of the file afterwards: both are looked at, so that half a file never passes for a whole one.
 * @throws {DOMException} `QuotaExceededError` where there is no room for it
 */
export async function wholeFile<T>(
  handle: FileSystemFileHandle,
  write: (writeAt: WriteAt) => Promise<T>,
): Promise<{ readonly file: File; readonly result: T }> {
  const access = await handle.createSyncAccessHandle();
  let end = 0;
  let result: T;
  try {
    result = await write((bytes, position) => {
      if (access.write(bytes, { at: position }) < bytes.length) throw full();
      end = Math.max(end, position + bytes.length);
    });
  } finally {
    access.close();
  }
  const file = await handle.getFile();
  if (file.size < end) throw full();
  return { file, result };
}
