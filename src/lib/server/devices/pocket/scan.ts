import { parseFile, type IAudioMetadata } from 'music-metadata';
import { posix } from 'node:path';
import type { Disk, StoredFile } from '../disk';
import { nativeValue, numberIn } from '../media';
import { isPlaylist, readPlaylists } from '../playlists';
import { Shelving, type DeviceScan, type Placed } from '../shown';

/*
 * Pocket's own scan, as of a phone: MP3 and MP4, tags no newer than ID3v2.3, albums by album artist or by the mark of
 * a compilation, ringtones of half a minute, playlists in a folder of theirs.
 */

const RINGTONE_SECONDS = 30;
const PLAYLISTS = 'Playlists';
const CODECS = /^(mpeg-4\/aac|aac|alac|mp4a)/i;

const known = new WeakMap<Disk, Map<string, Placed>>();

export async function scanPocket(disk: Disk): Promise<DeviceScan> {
  const shelving = new Shelving();
  const read = known.get(disk) ?? new Map<string, Placed>();
  known.set(disk, read);
  const files = await disk.list();
  for (const file of files) {
    if (isPlaylist(file.path, PLAYLISTS)) continue;
    const key = `${file.path}\n${file.digest}`;
    const placed = read.get(key) ?? (await place(disk, file));
    read.set(key, placed);
    shelving.put(file.path, placed);
  }
  const lists = await readPlaylists(disk, files, { folder: PLAYLISTS, blindToCase: true });
  return { ...shelving.scan, lists };
}

async function place(disk: Disk, { path }: StoredFile): Promise<Placed> {
  const top = path.split('/')[0] ?? '';
  if (!/\.(mp3|m4a|m4b|mp4|m4r)$/i.test(path)) return { reason: 'Pocket does not play this format' };
  let metadata: IAudioMetadata;
  try {
    metadata = await parseFile(disk.locate(path), { duration: true, skipCovers: true });
  } catch (error) {
    return { reason: `cannot be read: ${(error as Error).message}` };
  }
  const { codec, hasVideo } = metadata.format;
  if (!/\.mp3$/i.test(path) && (hasVideo || !CODECS.test(codec ?? '')))
    return { reason: `Pocket does not play ${codec ?? 'this sound'}` };
  switch (top) {
    case 'Music':
      return song(metadata);
    case 'Audiobooks':
      return book(metadata, path);
    case 'Podcasts':
      return podcast(metadata);
    case 'Ringtones':
      return ringtone(metadata, path);
    default:
      return { reason: 'no folder that Pocket looks into' };
  }
}

/** What Pocket reads: it passes over tags that are newer than it is. */
function tagsOf({ format, native, common }: IAudioMetadata): IAudioMetadata['common'] | null {
  const isMp3 = format.container === 'MPEG';
  if (!isMp3) return common;
  return native['ID3v2.3'] || native['ID3v2.2'] ? common : null;
}

/** A slash may part artists or belong to a name: it is shown as it stands. */
function artistOf({ native, common }: IAudioMetadata): string | null {
  const frames = [...(native['ID3v2.3'] ?? []), ...(native['ID3v2.2'] ?? [])];
  const names = frames.filter(({ id }) => id === 'TPE1' || id === 'TP1').map(({ value }) => String(value));
  if (names.length > 0) return names.join('/');
  return (common.artists ?? []).join('; ') || (common.artist ?? null);
}

function song(metadata: IAudioMetadata): Placed {
  const tags = tagsOf(metadata);
  if (!tags?.title) return { reason: 'no title in tags that Pocket reads' };
  const artist = artistOf(metadata);
  const maker = tags.albumartist || (tags.compilation ? 'Various' : artist);
  const facts = { title: tags.album?.trim() ?? null, maker: maker?.trim() ?? null };
  return {
    shelves: [{ kind: 'song', facts }],
    leaf: {
      kind: 'song',
      facts: { title: tags.title, artist, track: tags.track.no || null, disc: tags.disk.no || null },
    },
  };
}

function book(metadata: IAudioMetadata, path: string): Placed {
  const tags = tagsOf(metadata);
  if (!tags?.album) return { reason: 'no book in tags that Pocket reads' };
  const { title, track, disk } = tags;
  return {
    shelves: [{ kind: 'audiobook', facts: { title: tags.album.trim() } }],
    leaf: {
      kind: 'audiobook',
      facts: {
        title: title || posix.parse(path).name,
        artist: artistOf(metadata),
        track: track.no || null,
        disc: disk.no || null,
      },
    },
  };
}

function podcast(metadata: IAudioMetadata): Placed {
  const tags = tagsOf(metadata);
  if (!tags?.title) return { reason: 'no title in tags that Pocket reads' };
  const told = (frame: string, item: string) => nativeValue(metadata, `TXXX:${frame}`, item);
  return {
    shelves: [{ kind: 'podcast', facts: { title: told('SHOW', 'tvsh')?.trim() ?? null } }],
    leaf: {
      kind: 'podcast',
      facts: {
        title: tags.title,
        season: numberIn(told('SEASON', 'tvsn')),
        episode: numberIn(told('EPISODE', 'tves')),
      },
    },
  };
}

function ringtone({ format }: IAudioMetadata, path: string): Placed {
  if ((format.duration ?? 0) > RINGTONE_SECONDS) return { reason: 'longer than 30 seconds' };
  return { shelves: [], leaf: { kind: 'ringtone', facts: { title: posix.parse(path).name } } };
}
