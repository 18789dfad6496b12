import { homeOf, isCatchAll } from '../items';
import type { PictureRole } from '../items';
import { extensionOf, folderOf, nameOf, stemOf } from '../paths';

/** What a file beside media can be, judging by its name. */
export type BesideType = 'picture' | 'sidecar' | 'lyrics' | 'chapters' | 'subtitles' | 'text';

/** A media file for which others can be found. */
export interface MediaFile {
  readonly path: string;
  /** Videos in one folder do not share its picture, as songs, books and episodes do. */
  readonly isVideo: boolean;
}

/** A file beside media, and the media files that it says something of. */
export interface BesideFile {
  readonly path: string;
  readonly type: BesideType;
  /** Role of a picture. */
  readonly role: PictureRole;
  /** Paths of media files. */
  readonly of: readonly string[];
}

const TYPES: Readonly<Record<string, BesideType>> = {
  jpg: 'picture',
  jpeg: 'picture',
  png: 'picture',
  webp: 'picture',
  gif: 'picture',
  xml: 'sidecar',
  lrc: 'lyrics',
  cue: 'chapters',
  srt: 'subtitles',
  vtt: 'subtitles',
  txt: 'text',
};

/** Names of pictures without extension, in lower case. */
const ROLES: Readonly<Record<string, PictureRole>> = {
  cover: 'front',
  front: 'front',
  folder: 'front',
  album: 'front',
  back: 'back',
  artist: 'artist',
};

/**
 * Assigns files beside media to the media that they belong to: a file of the same name to that one, a file alone with one
 * media file to that, a picture to all audio files of its folder and its disc folders, and a picture of an
 * artist to everything below its folder. Folders for files of all sorts have no picture of their own. Linear in files.
 * @param sidecarEndings extensions of sidecars by the rulebooks, without a dot
 */
export function assignBeside(
  media: readonly MediaFile[],
  others: readonly string[],
  sidecarEndings: ReadonlySet<string>,
): readonly BesideFile[] {
  const inFolder = groupedBy(media, ({ path }) => folderOf(path));
  const inHome = groupedBy(media, ({ path }) => homeOf(path));
  const byStem = groupedBy(media, ({ path }) => stemKey(folderOf(path), stemOf(path)));
  const picturesIn = countBy(
    others.filter((path) => typeOf(path, sidecarEndings) === 'picture'),
    folderOf,
  );
  const below = byEveryFolder(media, new Set(others.filter(isOfArtist).map(folderOf)));
  return others.flatMap((path): BesideFile[] => {
    const type = typeOf(path, sidecarEndings);
    if (type === null) return [];
    const folder = folderOf(path);
    const stem = stemOf(path);
    const role = (type === 'picture' && ROLES[stem.toLowerCase()]) || null;
    const same =
      byStem.get(stemKey(folder, stem)) ?? byStem.get(stemKey(folder, withoutLanguage(stem))) ?? [];
    if (same.length > 0) return [{ path, type, role: 'front', of: pathsOf(same) }];
    const here = inFolder.get(folder) ?? [];
    if (type === 'picture') {
      if (role === 'artist') return [{ path, type, role, of: pathsOf(below.get(folder) ?? []) }];
      if (isCatchAll(folder)) return [];
      const isLone = picturesIn.get(folder) === 1;
      if (role === null && !isLone) return [];
      const shared = (inHome.get(folder) ?? here).filter(({ isVideo }) => !isVideo);
      const of = shared.length > 0 ? shared : here.length === 1 ? here : [];
      return of.length > 0 ? [{ path, type, role: role ?? 'front', of: pathsOf(of) }] : [];
    }
    // Notes and the like need not be about the only media file beside them.
    if (type === 'text') return [];
    return here.length === 1 && !isCatchAll(folder) ? [{ path, type, role: 'front', of: pathsOf(here) }] : [];
  });
}

function typeOf(path: string, sidecarEndings: ReadonlySet<string>): BesideType | null {
  const ending = extensionOf(path);
  return sidecarEndings.has(ending) ? 'sidecar' : (TYPES[ending] ?? null);
}

const isOfArtist = (path: string): boolean =>
  TYPES[extensionOf(path)] === 'picture' && ROLES[stemOf(path).toLowerCase()] === 'artist';

const stemKey = (folder: string, stem: string): string => `${folder}/${stem.toLowerCase()}`;

/** `Low Water` of `Low Water.en`. */
const withoutLanguage = (stem: string): string => stem.replace(/\.[A-Za-z]{2,3}(-[A-Za-z0-9]+)*$/, '');

/** The language in the name of a file such as `Low Water.en.srt`; null if there is none. */
export const languageIn = (path: string): string | null =>
  /\.([A-Za-z]{2,3}(?:-[A-Za-z0-9]+)*)\.[^.]+$/.exec(nameOf(path))?.[1] ?? null;

const pathsOf = (media: readonly MediaFile[]): readonly string[] => media.map(({ path }) => path);

function groupedBy<T>(all: readonly T[], keyOf: (one: T) => string): ReadonlyMap<string, readonly T[]> {
  const groups = new Map<string, T[]>();
  for (const one of all) {
    const key = keyOf(one);
    const group = groups.get(key);
    if (group) group.push(one);
    else groups.set(key, [one]);
  }
  return groups;
}

function countBy(all: readonly string[], keyOf: (one: string) => string): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const one of all) counts.set(keyOf(one), (counts.get(keyOf(one)) ?? 0) + 1);
  return counts;
}

/** Media below each of some folders. */
function byEveryFolder(
  media: readonly MediaFile[],
  folders: ReadonlySet<string>,
): ReadonlyMap<string, readonly MediaFile[]> {
  const below = new Map([...folders].map((folder): [string, MediaFile[]] => [folder, []]));
  if (folders.size === 0) return below;
  for (const one of media)
    for (let folder = folderOf(one.path); ; folder = folderOf(folder)) {
      below.get(folder)?.push(one);
      if (folder === '') break;
    }
  return below;
}
