import { posix } from 'node:path';
import type { Disk } from '../disk';
import { firstBytes, isJpeg } from '../media';
import { Shelving, type DeviceScan, type Placed } from '../shown';

/*
 * Galley's own scan. It reads no tags: a category is a folder, an album a folder in it, a track a file in that, by
 * their names. It plays MP3 alone, and looks into the bytes to be sure of that.
 */

const PICTURE = 'folder.jpg';

export async function scanGalley(disk: Disk): Promise<DeviceScan> {
  const files = await disk.list();
  const paths = new Set(files.map(({ path }) => path));
  const shelving = new Shelving();
  const pictureOf = async (folder: string): Promise<string | null> => {
    const path = `${folder}/${PICTURE}`;
    return paths.has(path) && (await isJpeg(disk.locate(path))) ? path : null;
  };
  for (const { path } of files)
    if (posix.basename(path).toLowerCase() !== PICTURE)
      shelving.put(path, await place(disk, path, pictureOf));
  return shelving.scan;
}

async function place(
  disk: Disk,
  path: string,
  pictureOf: (folder: string) => Promise<string | null>,
): Promise<Placed> {
  const [category = '', album = '', track, ...deeper] = path.split('/');
  if (track === undefined || deeper.length > 0)
    return { reason: 'Galley plays what lies in a folder of a category, no higher and no deeper' };
  if (!/\.mp3$/i.test(track) || !isMpegAudio(await firstBytes(disk.locate(path), 3)))
    return { reason: 'Galley plays MP3 alone' };
  return {
    shelves: [
      { kind: 'song', facts: { title: category, picture: await pictureOf(category) } },
      { kind: 'song', facts: { title: album, picture: await pictureOf(`${category}/${album}`) } },
    ],
    leaf: { kind: 'song', facts: { title: track.slice(0, -4) } },
  };
}

/** A tag in front, or the sync word of a frame of layer III. */
function isMpegAudio(bytes: Buffer): boolean {
  const [first = 0, second = 0] = bytes;
  return bytes.toString('latin1') === 'ID3' || (first === 0xff && (second & 0xe6) === 0xe2);
}
