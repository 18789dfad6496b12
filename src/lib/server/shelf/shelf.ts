import { digestOf, rangeResponse, sizeOf } from '../files';
import {
  ARTISTS,
  SHORT_SHARE,
  SHORT_TRACK,
  type ShelfAlbum,
  type ShelfArtist,
  type ShelfTrack,
} from './catalogue';

const fileOf = (id: string) => `boathouse/${id}.mp3`;

function describeTrack(track: ShelfTrack, artist: ShelfArtist, owner: ShelfAlbum | null) {
  return {
    ...track,
    artist: artist.name,
    album: owner?.title ?? null,
    year: owner?.year ?? null,
    tracks: owner?.tracks.length ?? null,
    extension: 'mp3',
    bytes: track.offered ? sizeOf(fileOf(track.id)) : null,
    sha256: track.offered ? digestOf(fileOf(track.id)) : null,
  };
}

const describeAlbum = (owner: ShelfAlbum, artist: ShelfArtist) => ({
  id: owner.id,
  title: owner.title,
  year: owner.year,
  tracks: owner.tracks.map((track) => describeTrack(track, artist, owner)),
});

const describeArtist = (artist: ShelfArtist) => ({
  id: artist.id,
  name: artist.name,
  albums: artist.albums.map((owner) => describeAlbum(owner, artist)),
  singles: artist.singles.map((track) => describeTrack(track, artist, null)),
});

/** Everything on the shelf. */
export const describeShelf = () => ({ name: 'Boathouse', artists: ARTISTS.map(describeArtist) });

/** What stands at an address: an artist with everything, with one album, or with one track. Null where nothing does. */
export function describeAddress(kind: string, id: string) {
  for (const artist of ARTISTS) {
    const whole = describeArtist(artist);
    if (kind === 'artists' && artist.id === id) return { name: 'Boathouse', artists: [whole] };
    const owner = whole.albums.find((one) => one.id === id);
    if (kind === 'albums' && owner)
      return { name: 'Boathouse', artists: [{ ...whole, albums: [owner], singles: [] }] };
    if (kind !== 'tracks') continue;
    const single = whole.singles.find((one) => one.id === id);
    if (single) return { name: 'Boathouse', artists: [{ ...whole, albums: [], singles: [single] }] };
    const held = whole.albums.find(({ tracks }) => tracks.some((one) => one.id === id));
    if (held)
      return {
        name: 'Boathouse',
        artists: [
          {
            ...whole,
            albums: [{ ...held, tracks: held.tracks.filter((one) => one.id === id) }],
            singles: [],
          },
        ],
      };
  }
  return null;
}

/** A track's bytes, or null where its owner does not offer it. */
export function sendTrack(id: string, range: string | null): Response | null {
  const all = ARTISTS.flatMap(({ albums, singles }) => [
    ...albums.flatMap(({ tracks }) => tracks),
    ...singles,
  ]);
  if (!all.find((track) => track.id === id)?.offered) return null;
  const most = id === SHORT_TRACK ? Math.floor(sizeOf(fileOf(id)) * SHORT_SHARE) : null;
  return rangeResponse(fileOf(id), range, 'audio/mpeg', most);
}
