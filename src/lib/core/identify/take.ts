import type { Edits, FieldName, Matched } from '../items';
import type { Kind } from '../kinds';
import type { ReferenceEntry, ReferenceRelease, ReleaseType } from './reference';

/** Fields that taking a line-up can write, for each type of release. */
export const TAKEN_FIELDS: Readonly<Record<ReleaseType, readonly FieldName[]>> = {
  album: [
    'title',
    'artist',
    'albumArtist',
    'album',
    'compilation',
    'year',
    'genre',
    'track',
    'tracks',
    'disc',
    'discs',
  ],
  series: ['title', 'show', 'season', 'episode', 'year', 'date', 'genre', 'description'],
  audiobook: ['title', 'artist', 'albumArtist', 'album', 'narrator', 'year', 'genre', 'track', 'tracks'],
  podcast: ['title', 'artist', 'album', 'show', 'episode', 'season', 'date', 'year', 'genre', 'description'],
  film: ['title', 'artist', 'year', 'genre', 'description'],
};

export const KIND_OF_TYPE: Readonly<Record<ReleaseType, Kind>> = {
  album: 'song',
  series: 'episode',
  audiobook: 'audiobook',
  podcast: 'podcast',
  film: 'film',
};

/** What an entry says of the file laid against it, as edits of these fields. What the reference does not know is left. */
export function factsFor(
  release: ReferenceRelease,
  entry: ReferenceEntry,
  fields: ReadonlySet<FieldName>,
): Edits {
  const all = FACTS[release.type](release, entry);
  return Object.fromEntries(
    Object.entries(all).filter(([name, value]) => fields.has(name as FieldName) && value !== null),
  ) as Edits;
}

type Facts = (release: ReferenceRelease, entry: ReferenceEntry) => Edits;

const yearOf = ({ year }: ReferenceRelease, { date }: ReferenceEntry) =>
  date === null ? year : Number(date.slice(0, 4));
const albumName = ({ title, edition }: ReferenceRelease) => (edition ? `${title} [${edition}]` : title);

const FACTS: Readonly<Record<ReleaseType, Facts>> = {
  album: (release, entry) => ({
    title: entry.title,
    artist: entry.artist ?? release.maker,
    albumArtist: release.compilation ? null : release.maker,
    compilation: release.compilation ? true : null,
    album: albumName(release),
    year: release.year,
    genre: release.genre,
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
    year: yearOf(release, entry),
    date: entry.date,
    genre: release.genre,
    description: entry.description,
  }),
  audiobook: (release, entry) => ({
    title: entry.title,
    artist: release.maker,
    albumArtist: release.maker,
    album: albumName(release),
    narrator: release.narrator,
    year: release.year,
    genre: release.genre,
    track: entry.number,
    tracks: release.entries.length,
  }),
  podcast: (release, entry) => ({
    title: entry.title,
    artist: release.maker,
    album: release.title,
    show: release.title,
    episode: entry.number,
    season: entry.disc,
    date: entry.date,
    year: yearOf(release, entry),
    genre: release.genre,
    description: entry.description,
  }),
  film: (release) => ({
    title: release.title,
    artist: release.maker,
    year: release.year,
    genre: release.genre,
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
