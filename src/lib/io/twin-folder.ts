/* Twins in a folder of the curator's: each under its id, with the ending of its format. Nothing else there is touched. */

import { FORMAT_ENDINGS } from '$lib/core/items';
import type { Twin } from '$lib/core/twins';

/** Under which it is kept, among the folders of sources. */
export const TWIN_FOLDER = 'twins';

type Named = Pick<Twin, 'id' | 'format'>;

const nameOf = ({ id, format }: Named): string => `${id}.${FORMAT_ENDINGS[format][0]}`;

/** Whether the folder itself is there: a disk that is away has lost nothing. */
export async function isReachable(folder: FileSystemDirectoryHandle): Promise<boolean> {
  try {
    await folder.keys().next();
    return true;
  } catch {
    return false;
  }
}

/** A twin's file in it; null where it is gone. @throws {DOMException} `NotAllowedError` while it may not be read */
export async function findInFolder(folder: FileSystemDirectoryHandle, twin: Named): Promise<File | null> {
  try {
    return await (await folder.getFileHandle(nameOf(twin))).getFile();
  } catch (error) {
    if (error instanceof DOMException && error.name === 'NotFoundError') return null;
    throw error;
  }
}

/**
 * Lays a twin's file into it. What is not whole in the end is not left there.
 * @throws {DOMException} where there is no room, or it may not be written
 */
export async function writeToFolder(
  folder: FileSystemDirectoryHandle,
  twin: Named,
  file: Blob,
): Promise<void> {
  const handle = await folder.getFileHandle(nameOf(twin), { create: true });
  try {
    await file.stream().pipeTo(await handle.createWritable());
    const { size } = await handle.getFile();
    if (size !== file.size) throw new DOMException(`${size} of ${file.size} bytes were written`);
  } catch (error) {
    await dropFromFolder(folder, twin).catch(() => undefined);
    throw error;
  }
}

/** @throws {DOMException} `NotAllowedError` while it may not be written */
export async function dropFromFolder(folder: FileSystemDirectoryHandle, twin: Named): Promise<void> {
  try {
    await folder.removeEntry(nameOf(twin));
  } catch (error) {
    if (!(error instanceof DOMException && error.name === 'NotFoundError')) throw error;
  }
}
