import { XMLParser } from 'fast-xml-parser';
import type { IAudioMetadata } from 'music-metadata';
import { readFile } from 'node:fs/promises';
import { posix } from 'node:path';
import type { Disk, StoredFile } from '../disk';
import { isJpeg, nativeValue, numberIn, readTags } from '../media';
import { isPlaylist, readPlaylists } from '../playlists';
import { Shelving, type DeviceScan, type Placed } from '../shown';

/*
 * Attic's own scan: reads the real bytes on its disk and says what it would show. Each kind has a folder that is
 * declared to hold it. It has its own rules; whoever fills Attic has to meet them.
 */

const SOUND = /\.(mp3|flac|m4a|m4b|mp4|ogg|oga|opus|wav|aiff?)$/i;
const SPEECH = /\.(mp3|m4a|m4b|mp4|flac|ogg|opus)$/i;
const VIDEO = /\.(mp4|m4v|mkv|webm)$/i;
const PLAYLISTS = 'Lists';
const BESIDE = /\.(slip|jpe?g)$/i;

interface Look {
  readonly disk: Disk;
  readonly file: StoredFile;
  readonly paths: ReadonlySet<string>;
}

/** What each of its folders is declared to hold. */
const SOURCES: Readonly<Record<string, { readonly plays: RegExp; read(look: Look): Promise<Placed> }>> = {
  Music: { plays: SOUND, read: readSong },
  'Music Videos': { plays: VIDEO, read: readVideo },
  Films: { plays: VIDEO, read: (look) => readInFolder(look, 'film', 'feature') },
  Series: { plays: VIDEO, read: readEpisode },
  'Home Videos': { plays: VIDEO, read: (look) => readInFolder(look, 'homeVideo', 'moment') },
  Ambience: { plays: VIDEO, read: (look) => readInFolder(look, 'ambience', 'loop') },
  Audiobooks: { plays: SPEECH, read: readBook },
  Podcasts: { plays: SPEECH, read: readPodcast },
};

const known = new WeakMap<Disk, Map<string, Placed>>();

/** Scans the whole disk. Sound that has not changed since the last scan is not opened again. */
export async function scanAttic(disk: Disk): Promise<DeviceScan> {
  const files = await disk.list();
  const paths = new Set(files.map(({ path }) => path));
  const shelving = new Shelving();
  for (const file of files)
    if (!BESIDE.test(file.path) && !isPlaylist(file.path, PLAYLISTS))
      shelving.put(file.path, await placeOf({ disk, file, paths }));
  const lists = await readPlaylists(disk, files, { folder: PLAYLISTS, blindToCase: false });
  return { ...shelving.scan, lists };
}

async function placeOf(look: Look): Promise<Placed> {
  const { path, digest } = look.file;
  const top = path.split('/')[0] ?? '';
  const source = Object.hasOwn(SOURCES, top) ? SOURCES[top] : undefined;
  if (!source) return { reason: 'no folder that Attic looks into' };
  if (!source.plays.test(path)) return { reason: 'Attic does not play this format there' };
  if (source.plays === VIDEO) return source.read(look);
  const read = known.get(look.disk) ?? new Map<string, Placed>();
  known.set(look.disk, read);
  const cover = `${posix.dirname(path)}/sleeve.jpg`;
  const key = `${path}\n${digest}\n${look.paths.has(cover)}`;
  const placed = read.get(key) ?? (await readSound(source.read, look));
  read.set(key, placed);
  return placed;
}

async function readSound(read: (look: Look) => Promise<Placed>, look: Look): Promise<Placed> {
  try {
    return await read(look);
  } catch (error) {
    return { reason: `cannot be read: ${(error as Error).message}` };
  }
}

/** A slash in an ID3v2.3 frame may part artists or belong to a name: it is shown as it stands. */
function artistOf({ common, native }: IAudioMetadata): string | null {
  const old = native['ID3v2.3']?.filter(({ id }) => id === 'TPE1').map(({ value }) => String(value));
  if (old?.length) return old.join('/');
  return (common.artists ?? []).join('; ') || common.artist || null;
}

/**
 * What is told of a file of a release, and of the release that it belongs to.
 * @param various stands for the makers of a compilation; null where its mark says nothing
 */
function releaseOf(metadata: IAudioMetadata, path: string, various: string | null) {
  const { common } = metadata;
  const artist = artistOf(metadata);
  const maker = common.albumartist || (common.compilation && various ? various : artist);
  return {
    shelf: { title: common.album?.trim() ?? null, maker: maker?.trim() ?? null },
    file: {
      title: common.title || posix.parse(path).name,
      artist,
      track: common.track.no || null,
      disc: common.disk.no || null,
    },
  };
}

async function readSong({ disk, file, paths }: Look): Promise<Placed> {
  const metadata = await readTags(disk.locate(file.path));
  const { shelf, file: facts } = releaseOf(metadata, file.path, 'Various Artists');
  if (!shelf.title) return { reason: 'no album in its tags' };
  const cover = `${posix.dirname(file.path)}/sleeve.jpg`;
  const picture = paths.has(cover) && (await isJpeg(disk.locate(cover))) ? cover : null;
  const year = metadata.common.year || null;
  return { shelves: [{ kind: 'song', facts: { ...shelf, year, picture } }], leaf: { kind: 'song', facts } };
}

async function readBook({ disk, file }: Look): Promise<Placed> {
  const { shelf, file: facts } = releaseOf(await readTags(disk.locate(file.path)), file.path, null);
  if (!shelf.title) return { reason: 'no book in its tags' };
  return { shelves: [{ kind: 'audiobook', facts: shelf }], leaf: { kind: 'audiobook', facts } };
}

async function readPodcast({ disk, file }: Look): Promise<Placed> {
  const metadata = await readTags(disk.locate(file.path));
  if (!metadata.common.title) return { reason: 'no title in its tags' };
  const told = (name: string, mp4: string) => nativeValue(metadata, `TXXX:${name}`, mp4, name);
  const facts = { title: told('SHOW', 'tvsh')?.trim() ?? null };
  return {
    shelves: [{ kind: 'podcast', facts }],
    leaf: {
      kind: 'podcast',
      facts: {
        title: metadata.common.title,
        season: numberIn(told('SEASON', 'tvsn')),
        episode: numberIn(told('EPISODE', 'tves')),
      },
    },
  };
}

const xml = new XMLParser({ parseTagValue: false, trimValues: true });
type SidecarTexts = Readonly<Record<string, string | undefined>>;

/** What the sidecar of a video says, or why it does not count. */
async function sidecarOf(
  { disk, file, paths }: Look,
  root: string,
): Promise<SidecarTexts | { reason: string }> {
  const { dir, name } = posix.parse(file.path);
  const beside = `${dir}/${name}.slip`;
  if (!paths.has(beside)) return { reason: `no sidecar named ${name}.slip` };
  try {
    const parsed = xml.parse(await readFile(disk.locate(beside), 'utf8'), true) as Record<string, unknown>;
    const facts = parsed[root];
    if (typeof facts !== 'object' || facts === null) return { reason: 'its sidecar is of another kind' };
    return facts as SidecarTexts;
  } catch (error) {
    return { reason: `its sidecar is no XML: ${(error as Error).message}` };
  }
}

const isRefused = (facts: SidecarTexts | { reason: string }): facts is { reason: string } =>
  Object.keys(facts).join() === 'reason';

async function readVideo(look: Look): Promise<Placed> {
  const { dir, name } = posix.parse(look.file.path);
  if (posix.basename(dir) !== name) return { reason: 'its folder has another name than the video' };
  const facts = await sidecarOf(look, 'clip');
  if (isRefused(facts)) return facts;
  if (!facts.name || !facts.by) return { reason: 'its sidecar lacks name or by' };
  return {
    shelves: [{ kind: 'musicVideo', facts: { maker: facts.by } }],
    leaf: {
      kind: 'musicVideo',
      facts: { title: facts.name, artist: facts.by, track: Number(facts.place) || null, disc: null },
    },
  };
}

/**
 * Versions of a film, or videos of one occasion, lie side by side in their folder, each under its own name.
 * @param root of the sidecar
 */
async function readInFolder(look: Look, kind: string, root: string): Promise<Placed> {
  const [, folder = '', ...names] = look.file.path.split('/');
  if (names.length !== 1) return { reason: 'not in a folder of its own' };
  const facts = await sidecarOf(look, root);
  if (isRefused(facts)) return facts;
  if (!facts.name) return { reason: 'its sidecar lacks the name' };
  return {
    shelves: [{ kind, facts: { title: folder } }],
    leaf: { kind, facts: { title: facts.name, artist: null, track: null, disc: null } },
  };
}

async function readEpisode(look: Look): Promise<Placed> {
  const facts = await sidecarOf(look, 'part');
  if (isRefused(facts)) return facts;
  if (!facts.name || !facts.of) return { reason: 'its sidecar lacks name or of' };
  const season = Number(facts.round) || null;
  return {
    shelves: [
      { kind: 'episode', facts: { title: facts.of } },
      { kind: 'episode', facts: { season } },
    ],
    leaf: {
      kind: 'episode',
      facts: { title: facts.name, season, episode: Number(facts.number) || null },
    },
  };
}
