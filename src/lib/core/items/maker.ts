import type { Fields } from './fields';

type Named = Pick<Fields, 'albumArtist' | 'artist' | 'compilation'>;

/**
 * The artist of a release: its album artist, otherwise the name used for compilations, otherwise its artists together.
 * @param various null if compilations have no name of their own
 * @returns null if there is no artist
 */
export function makerOf({ albumArtist, artist, compilation }: Named, various: string | null): string | null {
  if (albumArtist !== null) return albumArtist;
  return compilation && various !== null ? various : (artist?.join('; ') ?? null);
}

/** Equal for releases of one artist, whatever the case; all compilations share one key. */
export const makerKey = ({ albumArtist, artist, compilation }: Named): string =>
  compilation ? '' : (albumArtist ?? artist?.[0] ?? '').trim().toLowerCase();
