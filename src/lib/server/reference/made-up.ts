import type { ReferenceEntry, ReferenceRelease, ReleaseType } from '$lib/core/identify';
import { random } from '../sound/tunes.js';

/** A few hundred releases that nobody here owns, so that a look-up can go wrong as it does in the world. */

const FIRST =
  'Salt Low Northern Broken Quiet Drowned Last Paper Iron Amber Seven Hollow Winter Distant Second'.split(
    ' ',
  );
const SECOND =
  'Ledger Water Lantern Harbour Bell Ferry Skerry Almanac Reef Compass Channel Tower Orchard Signal Meadow Causeway'.split(
    ' ',
  );
const THIRD = 'Songs Hours Road Company Letters Winter Crossing Rooms Weather Accounts Nights Engines'.split(
  ' ',
);
const PEOPLE = 'Ada Birk Cato Dagny Eskil Frida Gunnar Hedda Ivo Jorunn Kaspar Liv Marit Nils Odd Pia'.split(
  ' ',
);
const HOUSES = 'Aske Brandt Corrie Dahl Ewart Fosse Greig Haugen Innes Jarl Kinnear Lund Moberg Nesse'.split(
  ' ',
);
const GENRES = ['choral', 'folk', 'jazz', 'ambient', 'dance', 'drama', 'mystery', 'history'];

const COUNTS: readonly (readonly [ReleaseType, number])[] = [
  ['album', 210],
  ['series', 36],
  ['audiobook', 48],
  ['podcast', 24],
  ['film', 52],
];
/** Entries, and seconds of each, from and to. */
const SHAPES: Readonly<Record<ReleaseType, readonly [number, number, number, number]>> = {
  album: [6, 16, 70, 330],
  series: [6, 13, 1380, 1620],
  audiobook: [6, 30, 300, 2400],
  podcast: [8, 40, 600, 3600],
  film: [1, 1, 4500, 8400],
};

/** The same releases at every start. */
export function makeReleases(): ReferenceRelease[] {
  const next = random(77);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)] as T;
  const whole = (low: number, high: number) => low + Math.floor(next() * (high - low + 1));
  const title = () => {
    const words = next() < 0.6 ? [pick(FIRST), pick(SECOND)] : [`The ${pick(SECOND)}`, pick(THIRD)];
    return next() < 0.2 ? `${words.join(' ')} ${pick(THIRD)}` : words.join(' ');
  };
  const person = () => `${pick(PEOPLE)} ${pick(HOUSES)}`;
  const makers = Array.from({ length: 90 }, () =>
    next() < 0.4 ? `The ${pick(FIRST)} ${pick(THIRD)}` : person(),
  );
  return COUNTS.flatMap(([type, count]) =>
    Array.from({ length: count }, (_, index): ReferenceRelease => {
      const id = `${type}-${index + 1}`;
      const [fewest, most, shortest, longest] = SHAPES[type];
      const year = whole(1962, 2025);
      const entries = Array.from({ length: whole(fewest, most) }, (__, place): ReferenceEntry => ({
        id: `${id}-${place + 1}`,
        number: place + 1,
        disc: null,
        title: title(),
        artist: null,
        lengthSeconds: whole(shortest, longest),
        date:
          type === 'album'
            ? null
            : `${year}-${String(whole(1, 12)).padStart(2, '0')}-${String(whole(1, 28)).padStart(2, '0')}`,
        description: null,
        hasLyrics: false,
      }));
      return {
        id,
        type,
        source:
          type === 'series' ? 'Series Almanac' : type === 'audiobook' ? 'Reading Room' : 'Harbour Index',
        // One neighbour of the household's series has nearly its name.
        title: type === 'series' && index === 0 ? 'Ferrymen of the Sound' : title(),
        maker: pick(makers),
        narrator: type === 'audiobook' ? person() : null,
        edition: next() < 0.08 ? 'Remaster' : null,
        year,
        genre: pick(GENRES),
        season: type === 'series' ? whole(1, 3) : null,
        description: null,
        compilation: false,
        entries,
        orders:
          type === 'series'
            ? [
                { name: 'disc', entries: entries.map(({ id: own, number }) => ({ id: own, number })) },
                {
                  name: 'running',
                  entries: entries.map(({ id: own, number }) => ({ id: own, number: number + 10 })),
                },
              ]
            : [],
        pictureSizes: next() < 0.8 ? [250, 500, 1200] : [],
      };
    }),
  );
}
