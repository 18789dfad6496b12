/** What the Boathouse shelf has. Its owner offers most of it for download. */
export interface ShelfTrack {
  readonly id: string;
  readonly number: number | null;
  readonly title: string;
  readonly offered: boolean;
}
export interface ShelfAlbum {
  readonly id: string;
  readonly title: string;
  readonly year: number;
  readonly tracks: readonly ShelfTrack[];
}
export interface ShelfArtist {
  readonly id: string;
  readonly name: string;
  readonly albums: readonly ShelfAlbum[];
  /** Tracks that belong to no album. */
  readonly singles: readonly ShelfTrack[];
}

const album = (
  id: string,
  title: string,
  year: number,
  names: readonly string[],
  kept: readonly number[] = [],
): ShelfAlbum => ({
  id,
  title,
  year,
  tracks: names.map((name, index) => ({
    id: `${id}-${index + 1}`,
    number: index + 1,
    title: name,
    offered: !kept.includes(index + 1),
  })),
});

export const ARTISTS: readonly ShelfArtist[] = [
  {
    id: 'cato-lund',
    name: 'Cato Lund',
    albums: [
      album('mooring-songs', 'Mooring Songs', 2015, [
        'Spring Line',
        'Breast Line',
        'The Cleat / The Bollard',
        'Cast Off',
      ]),
      album('second-tide', 'Second Tide', 2018, ['Again', 'Owner’s Copy', 'Rip'], [2]),
    ],
    singles: [],
  },
  {
    id: 'quay-band',
    name: 'The Quay Band',
    albums: [
      album('live-at-the-boathouse', 'Live at the Boathouse', 2022, [
        'Tuning Up',
        'Polka for Two Boats',
        'Last Orders',
      ]),
    ],
    singles: [
      { id: 'gangplank', number: null, title: 'Gangplank', offered: true },
      { id: 'short-measure', number: null, title: 'Short Measure', offered: true },
    ],
  },
  {
    id: 'hedda-moberg',
    name: 'Hedda Moberg',
    albums: [album('unfinished', 'Unfinished', 2025, ['Sketch', 'Sketch Two'], [1, 2])],
    singles: [],
  },
];

/** This track's line breaks off early, whatever was promised. */
export const SHORT_TRACK = 'short-measure';
/** Share of it that comes through. */
export const SHORT_SHARE = 0.6;
