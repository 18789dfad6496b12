import { XMLParser } from 'fast-xml-parser';
import { parseFile } from 'music-metadata';
import { open, readFile } from 'node:fs/promises';
import { posix } from 'node:path';
import { diskPath, listFiles, type StoredFile } from './storage';

/**
 * Attic's own scan: reads the real bytes on its disk and says what it would show. It has its own
 * rules and parsers; whoever fills Attic has to meet them.
 */

interface ShownItem {
  path: string;
  title: string;
  artist: string | null;
  track: number | null;
  disc: number | null;
}

interface ShownShelf {
  kind: 'song' | 'musicVideo';
  title: string | null;
  maker: string | null;
  year: number | null;
  picture: string | null;
  items: ShownItem[];
}

export interface AtticScan {
  shelves: ShownShelf[];
  unplaced: { path: string; reason: string }[];
}

const SOUND = /\.(mp3|flac|m4a|m4b|mp4|ogg|oga|opus|wav|aiff?)$/i;
const VIDEO = /\.(mp4|m4v|mkv|webm)$/i;
const BESIDE = /\.(xml|jpe?g)$/i;

type Entry = { shelf: Omit<ShownShelf, 'items'>; item: ShownItem } | { reason: string };

const read = new Map<string, Entry>();

/** Scans the whole disk. Files that have not changed since the last scan are not opened again. */
export async function scanDisk(): Promise<AtticScan> {
  const files = await listFiles();
  const paths = new Set(files.map(({ path }) => path));
  const scan: AtticScan = { shelves: [], unplaced: [] };
  const shelves = new Map<string, ShownShelf>();
  for (const file of files) {
    if (BESIDE.test(file.path)) continue;
    const entry = await readEntry(file, files);
    if ('reason' in entry) {
      scan.unplaced.push({ path: file.path, reason: entry.reason });
      continue;
    }
    const key = JSON.stringify([
      entry.shelf.kind,
      entry.shelf.title?.trim(),
      entry.shelf.maker?.trim(),
      entry.shelf.year,
    ]);
    let shelf = shelves.get(key);
    if (!shelf) {
      const cover = `${posix.dirname(file.path)}/cover.jpg`;
      const picture = entry.shelf.kind === 'song' && paths.has(cover) && (await isJpeg(cover)) ? cover : null;
      shelf = { ...entry.shelf, picture, items: [] };
      shelves.set(key, shelf);
    }
    shelf.items.push(entry.item);
  }
  scan.shelves = [...shelves.values()];
  return scan;
}

async function readEntry(file: StoredFile, files: readonly StoredFile[]): Promise<Entry> {
  const top = file.path.split('/')[0];
  if (top === 'Music' && SOUND.test(file.path)) {
    const key = `${file.path}\n${file.digest}`;
    const known = read.get(key);
    if (known) return known;
    const entry = await readSong(file.path);
    read.set(key, entry);
    return entry;
  }
  if (top === 'Music Videos' && VIDEO.test(file.path)) return readVideo(file.path, files);
  return {
    reason:
      top === 'Music' || top === 'Music Videos'
        ? 'Attic does not play this format'
        : 'no folder that Attic looks into',
  };
}

async function readSong(path: string): Promise<Entry> {
  let metadata;
  try {
    metadata = await parseFile(diskPath(path), { duration: false, skipCovers: true });
  } catch (error) {
    return { reason: `cannot be read: ${(error as Error).message}` };
  }
  const { common, native } = metadata;
  if (!common.album) return { reason: 'no album in its tags' };
  const oldFrames = native['ID3v2.3']?.filter(({ id }) => id === 'TPE1').map(({ value }) => String(value));
  const artist = oldFrames?.length
    ? oldFrames.join('/')
    : (common.artists ?? []).join('; ') || common.artist || null;
  const maker = common.albumartist || (common.compilation ? 'Various Artists' : artist);
  const { name } = posix.parse(path);
  return {
    shelf: { kind: 'song', title: common.album, maker, year: common.year || null, picture: null },
    item: {
      path,
      title: common.title || name,
      artist,
      track: common.track.no || null,
      disc: common.disk.no || null,
    },
  };
}

const xml = new XMLParser({ parseTagValue: false, trimValues: true });

async function readVideo(path: string, files: readonly StoredFile[]): Promise<Entry> {
  const { dir, name } = posix.parse(path);
  if (posix.basename(dir) !== name) return { reason: 'its folder has another name than the video' };
  const beside = `${dir}/${name}.xml`;
  if (!files.some((file) => file.path === beside)) return { reason: `no sidecar named ${name}.xml` };
  let facts: Record<string, string>;
  try {
    const parsed = xml.parse(await readFile(diskPath(beside), 'utf8'), true) as {
      musicVideo?: Record<string, string>;
    };
    if (!parsed.musicVideo) return { reason: 'its sidecar is of another kind' };
    facts = parsed.musicVideo;
  } catch (error) {
    return { reason: `its sidecar is no XML: ${(error as Error).message}` };
  }
  if (!facts.title || !facts.artist) return { reason: 'its sidecar lacks title or artist' };
  return {
    shelf: { kind: 'musicVideo', title: null, maker: facts.artist, year: null, picture: null },
    item: { path, title: facts.title, artist: facts.artist, track: Number(facts.track) || null, disc: null },
  };
}

async function isJpeg(path: string): Promise<boolean> {
  const file = await open(diskPath(path));
  try {
    const { buffer } = await file.read(Buffer.alloc(3), 0, 3, 0);
    return buffer[0] === 0xff && buffer[1] === 0xd8 && buffer[2] === 0xff;
  } finally {
    await file.close();
  }
}
