import { readFile } from 'node:fs/promises';
import { posix } from 'node:path';
import type { Disk, StoredFile } from './disk';
import type { ShownPlaylist } from './shown';

/** Bytes of a playlist that a device reads. */
const MOST_BYTES = 8_000_000;

/**
 * The playlists in a folder of a device, as it shows them: of each the files that it finds on its disk, by paths that are
 * seen from the list's own folder.
 */
export async function readPlaylists(
  disk: Disk,
  files: readonly StoredFile[],
  { folder, blindToCase }: { readonly folder: string; readonly blindToCase: boolean },
): Promise<ShownPlaylist[]> {
  const keyOf = (path: string) => (blindToCase ? path.normalize('NFC').toLowerCase() : path);
  const paths = new Map(files.map(({ path }) => [keyOf(path), path]));
  const lists: ShownPlaylist[] = [];
  for (const { path, size } of files) {
    if (!isPlaylist(path, folder) || size > MOST_BYTES) continue;
    const text = (await readFile(disk.locate(path), 'utf8')).replace(/^\ufeff/, '');
    const entries = text.split(/\r?\n/).flatMap((line) => {
      if (line.trim() === '' || line.startsWith('#')) return [];
      return paths.get(keyOf(posix.join(posix.dirname(path), line))) ?? [];
    });
    lists.push({ path, name: posix.parse(path).name, entries });
  }
  return lists;
}

/** Whether a file is a playlist of a device that keeps them in a folder. */
export const isPlaylist = (path: string, folder: string): boolean =>
  path.toLowerCase().startsWith(`${folder.toLowerCase()}/`) && /\.m3u8$/i.test(path);
