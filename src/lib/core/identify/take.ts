import { toTexts, yearDate, type Edits, type FieldName, type Matched } from '../items';
import type { Kind } from '../kinds';
import type { ReferenceEntry, ReferenceRelease, ReleaseType } from './reference';

/** Fields that taking a line-up can write, for each type of release. */
export const TAKEN_FIELDS: Readonly<Record<ReleaseType, readonly FieldName[]>> = {
  album: [
    'title',
    'artist',
    'albumArtist',
    'album',
    'edition',
    'compilation',
    'date',
    'genre',
    'track',
    'tracks',
    'disc',
    'discs',
  ],
  series: ['title', 'show', 'season', 'episode', 'date', 'genre', 'description'],
  audiobook: [
    'title',
    'artist',
    'albumArtist',
    'album',
    'edition',
    'narrator',
    'date',
    'genre',
    'track',
    'tracks',
  ],
  podcast: ['title', 'artist', 'album', 'show', 'episode', 'season', 'date', 'genre', 'description'],
  film: ['title', 'artist', 'date', 'genre', 'description'],
};

export const KIND_OF_TYPE: Readonly<Record<ReleaseType, Kind>> = {
  album: 'song',
  series: 'episode',
  audiobook: 'audiobook',
  podcast: 'podcast',
  film: 'film',
};

/** The values of an entry as edits of these fields of its file. Fields that the reference does not know stay. */
export function factsFor(
  release: ReferenceRelease,
  entry: ReferenceEntry,
  fields: ReadonlySet<FieldName>,
): Edits {
  const all = FACTS[release.type](release, entry);
  return Object.fromEntries(
    Object.entries(all).filter(([name, value]) => fields.has(name as FieldName) && value !== null),
  );
}

type FromRelease = (release: ReferenceRelease, entry: ReferenceEntry) => Edits;

/** The date of an entry if known, otherwise the year of its release. */
const dateOf = ({ year }: ReferenceRelease, entry?: ReferenceEntry) =>
  entry?.date ?? (year === null ? null : yearDate(year));
const one = (name: string | null) => toTexts([name ?? '']);

const FACTS: Readonly<Record<ReleaseType, FromRelease>> = {
  album: (release, entry) => ({
    title: entry.title,
    artist: one(entry.artist ?? release.maker),
    albumArtist: release.compilation ? null : release.maker,
    compilation: release.compilation ? true : null,
    album: release.title,
    edition: release.edition,
    date: dateOf(release),
    genre: one(release.genre),
    track: entry.number,
    tracks: release.entries.filter(({ disc }) => disc === entry.disc).length,
    disc: entry.disc,
    discs: entry.disc === null ? null : Math.max(...release.entries.map(({ disc }) => disc ?? 1)),
  }),
  series: (release, entry) => ({
    title: entry.title,
    show: release.title,
    season: entry.disc ?? release.season,
    episode: entry.number,
    date: dateOf(release, entry),
    genre: one(release.genre),
    description: entry.description,
  }),
  audiobook: (release, entry) => ({
    title: entry.title,
    artist: one(release.maker),
    albumArtist: release.maker,
    album: release.title,
    edition: release.edition,
    narrator: one(release.narrator),
    date: dateOf(release),
    genre: one(release.genre),
    track: entry.number,
    tracks: release.entries.length,
  }),
  podcast: (release, entry) => ({
    title: entry.title,
    artist: one(release.maker),
    album: release.title,
    show: release.title,
    episode: entry.number,
    season: entry.disc,
    date: dateOf(release, entry),
    genre: one(release.genre),
    description: entry.description,
  }),
  film: (release) => ({
    title: release.title,
    artist: one(release.maker),
    date: dateOf(release),
    genre: one(release.genre),
    description: release.description,
  }),
};

/** The mark that an item carries once its line-up was taken. */
export function matchOf(release: ReferenceRelease, entry: ReferenceEntry, at: number): Matched {
  return {
    type: 'matched',
    release: release.id,
    entry: entry.id,
    source: release.source,
    title: release.title,
    at,
  };
}
