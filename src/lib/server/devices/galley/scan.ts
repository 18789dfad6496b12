import { posix } from 'node:path';
import type { Disk } from '../disk';
import { firstBytes, isJpeg } from '../media';
import { Shelving, type DeviceScan, type Placed } from '../shown';

/*
 * Galley's own scan. It reads no tags: a top folder is a folder, an album a folder in it, a track a file in that, by
 * their names. It plays MP3 alone, and looks into the bytes to be sure of that.
 */

/** The pictures that it shows: of a top folder, and of an album in it. */
const PICTURES = { top: 'top.jpg', album: 'front.jpg' } as const;
const PICTURE_NAMES: ReadonlySet<string> = new Set(Object.values(PICTURES));

export async function scanGalley(disk: Disk): Promise<DeviceScan> {
  const files = await disk.list();
  const paths = new Set(files.map(({ path }) => path));
  const shelving = new Shelving();
  const pictureOf = async (folder: string, of: keyof typeof PICTURES): Promise<string | null> => {
    const path = `${folder}/${PICTURES[of]}`;
    return paths.has(path) && (await isJpeg(disk.locate(path))) ? path : null;
  };
  for (const { path } of files)
    if (!PICTURE_NAMES.has(posix.basename(path).toLowerCase()))
      shelving.put(path, await place(disk, path, pictureOf));
  return { ...shelving.scan, lists: [] };
}

async function place(
  disk: Disk,
  path: string,
  pictureOf: (folder: string, of: keyof typeof PICTURES) => Promise<string | null>,
): Promise<Placed> {
  const [topFolder = '', album = '', track, ...deeper] = path.split('/');
  if (track === undefined || deeper.length > 0)
    return { reason: 'Galley plays what lies in a folder of a top folder, no higher and no deeper' };
  if (!/\.mp3$/i.test(track) || !isMpegAudio(await firstBytes(disk.locate(path), 3)))
    return { reason: 'Galley plays MP3 alone' };
  return {
    shelves: [
      { kind: 'song', facts: { title: topFolder, picture: await pictureOf(topFolder, 'top') } },
      { kind: 'song', facts: { title: album, picture: await pictureOf(`${topFolder}/${album}`, 'album') } },
    ],
    leaf: { kind: 'song', facts: { title: track.slice(0, -4) } },
  };
}

/** A tag in front, or the sync word of a frame of layer III. */
function isMpegAudio(bytes: Buffer): boolean {
  const [first = 0, second = 0] = bytes;
  return bytes.toString('latin1') === 'ID3' || (first === 0xff && (second & 0xe6) === 0xe2);
}
