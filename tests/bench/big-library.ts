import { zipSync } from 'fflate';
import type { ArrivalId, SourceId } from '../../src/lib/core/items';
import { EMPTY_PARTS, EXPORT_CHUNK, LIBRARY_VERSION, headFile, itemsFile } from '../../src/lib/core/library';
import { makeItem } from '../helpers/items';

/** A library file of well-made albums, twelve songs each, by 900 artists. */
export function bigLibrary(count: number): Uint8Array {
  const encode = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));
  const [source, arrival] = ['s' as SourceId, 'a' as ArrivalId];
  const chunks = Math.ceil(count / EXPORT_CHUNK);
  const files: Record<string, Uint8Array> = {
    [headFile]: encode({
      ...EMPTY_PARTS,
      version: LIBRARY_VERSION,
      chunks,
      sources: [{ id: source, type: 'folder', label: 'Music' }],
      arrivals: [{ id: arrival, source, origin: 'folder', label: 'Music', at: 1, unread: [], setAside: 0 }],
    }),
  };
  for (let chunk = 0; chunk < chunks; chunk++)
    files[itemsFile(chunk)] = encode(
      Array.from({ length: Math.min(EXPORT_CHUNK, count - chunk * EXPORT_CHUNK) }, (_, at) => {
        const index = chunk * EXPORT_CHUNK + at;
        const album = Math.floor(index / 12);
        const artist = `Artist ${album % 900}`;
        return makeItem(
          `i${index}`,
          {
            title: `Song ${index}`,
            artist: [artist],
            albumArtist: artist,
            album: `Album ${album}`,
            date: String(1960 + (album % 60)),
            track: (index % 12) + 1,
            tracks: 12,
            genre: ['folk'],
          },
          { source, arrival, path: `Music/${artist}/Album ${album}/${index}.flac` },
        );
      }),
    );
  return zipSync(files, { level: 6 });
}
