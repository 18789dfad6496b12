import type { Fields } from './fields';

type Named = Pick<Fields, 'albumArtist' | 'artist' | 'compilation'>;

/**
 * Who made a release: its album artist, else what stands for the many of a compilation, else its artists together.
 * @param various null where a compilation is as good as none
 * @returns null where nobody is named
 */
export function makerOf({ albumArtist, artist, compilation }: Named, various: string | null): string | null {
  if (albumArtist !== null) return albumArtist;
  return compilation && various !== null ? various : (artist?.join('; ') ?? null);
}

/** Equal for releases of one maker, whatever its letter case: all compilations have one. */
export const makerKey = ({ albumArtist, artist, compilation }: Named): string =>
  compilation ? '' : (albumArtist ?? artist?.[0] ?? '').trim().toLowerCase();
