import type { ReferenceEntry, ReferenceOrder, ReferenceRelease } from '$lib/core/identify';

/** Releases that the household owns something of, by hand: their facts are those of the demo's files. */

const clock = (text: string): number => text.split(':').reduce((sum, part) => sum * 60 + Number(part), 0);

type Line = readonly [title: string, seconds: number, more?: Partial<ReferenceEntry>];

function entriesOf(release: string, lines: readonly Line[], first = 1): ReferenceEntry[] {
  return lines.map(([title, lengthSeconds, more], index) => ({
    id: `${release}-${index + 1}`,
    number: first + index,
    disc: null,
    title,
    artist: null,
    lengthSeconds,
    date: null,
    description: null,
    hasLyrics: false,
    ...more,
  }));
}

const BASE = {
  source: 'Harbour Index',
  maker: null,
  narrator: null,
  edition: null,
  year: null,
  genre: null,
  season: null,
  description: null,
  compilation: false,
  orders: [],
  pictureSizes: [250, 500, 1200],
} as const;

const album = (
  id: string,
  facts: Partial<ReferenceRelease> & { title: string },
  lines: readonly Line[],
): ReferenceRelease => ({ ...BASE, id, type: 'album', ...facts, entries: entriesOf(id, lines) });

const sung = { hasLyrics: true };
const SALT: readonly Line[] = [
  ['Inventory of Gulls', 91, sung],
  ['Kelp Road', 98, sung],
  ['The Harbour Clerk', 105, { artist: 'The Tidewrack Choir with Orla Venn', ...sung }],
  ['Low Water', 89, sung],
  ['Ballast Stone', 96, sung],
];

const ALBUMS: readonly ReferenceRelease[] = [
  album(
    'salt-ledger',
    { title: 'Salt Ledger', maker: 'The Tidewrack Choir', year: 2019, genre: 'choral' },
    SALT,
  ),
  album(
    'salt-ledger-remaster',
    { title: 'Salt Ledger', maker: 'The Tidewrack Choir', year: 2024, genre: 'choral', edition: 'Remaster' },
    [
      ...SALT.map(([title, seconds, more]): Line => [title, seconds + 2, more]),
      ['Low Water (harbour take)', 131, sung],
    ],
  ),
  album(
    'fathom-songs',
    { title: 'Fathom Songs', maker: 'The Tidewrack Choir', year: 2021, genre: 'choral' },
    [
      ['Sounding Line', 103],
      ['Undertow, Understood', 87],
      ['Nine Fathoms', 94],
      ['Drowned Bell', 101],
      ['Slack Before Storm', 85],
    ],
  ),
  album(
    'nine-lamps-burning',
    { title: 'Nine Lamps Burning', maker: 'Orla Venn', year: 2016, genre: 'folk' },
    [
      ['Who Goes There?', 92],
      ['Harbour Bell: A Watch Song', 99],
      ['Left / Right of the Light', 106],
      ['Wick', 90],
      ['The Unlit', 112],
    ],
  ),
  album(
    'quiet-engines',
    { title: 'Quiet Engines', maker: 'Halyard & Daughters', year: 2014, genre: 'folk' },
    [
      ['Donkey Engine', 97],
      ['Oil and Patience', 104],
      ['The Night Boiler', 88],
      ['Steam Up', 95],
      ['Cold Iron', 102],
    ],
  ),
  album('ebb-tables', { title: 'Ebb Tables', maker: 'Dag Holme', year: 2011, genre: 'dance' }, [
    ['Neap', 74],
    ['Perigee Reel', 61],
    ['The Long Ebb', 88],
    ['Springs', 67],
    ['Double High Water', 79],
    ['Stand of the Tide', 70],
  ]),
  album(
    'lights-along-the-sound',
    { title: 'Lights Along the Sound', maker: 'Halyard & Daughters', year: 2009, genre: 'folk' },
    [
      ['Leading Lights', 31],
      ['Occulting', 24],
      ['The Sector Between', 42],
      ['Fixed and Flashing', 28],
      ['Dowsed', 36],
    ],
  ),
  ...(['Mono', null] as const).map((edition, index) =>
    album(
      edition ? 'tin-chapel-mono' : 'tin-chapel',
      { title: 'Tin Chapel', maker: 'Kaspar Ewart', year: edition ? 1966 : 1968, genre: 'jazz', edition },
      [
        ['Corrugated', 27 + index],
        ['Rain on It', 33],
        ['Harmonium', 39 - index],
        ['Out by the Side Door', 22],
      ],
    ),
  ),
  album('nine-knots', { title: 'Nine Knots', maker: 'Dag Holme', year: 2003, genre: 'dance' }, [
    ['Cast Log', 45],
    ['Reef Two', 32],
    ['Nine Knots', 58],
    ['Hove To', 20],
  ]),
  album('skerry-house-evenings', { title: 'Skerry House Evenings', year: 2023, compilation: true }, [
    ['Ferry Waltz', 86, { artist: 'Dag Holme' }],
    ['Lamp Song', 93, { artist: 'Orla Venn' }],
    ['Kitchen Hymn', 100, { artist: 'The Tidewrack Choir' }],
    ['Last Boat', 84, { artist: 'Ines Marrable' }],
  ]),
];

const FERRY_ONE: readonly (readonly [string, string])[] = [
  ['The Inspector Boards', '24:40'],
  ['Return Half', '25:21'],
  ['Standing Room', '24:03'],
  ['A Berth for Mr Tarn', '26:12'],
  ['Lifejackets', '25:44'],
  ['The Purser’s Cat', '24:19'],
  ['Two Tickets to Skarra', '25:10'],
  ['The Unclaimed Trunk', '25:00'],
  ['Fog in the Ledger', '23:55'],
  ['A Question of Ballast', '26:40'],
  ['Low Season', '25:30'],
  ['The Last Manifest', '26:05'],
];
const FERRY_TWO: readonly (readonly [string, string])[] = [
  ['The New Vessel', '26:50'],
  ['Car Deck', '24:35'],
  ['Breakdown off Hesk', '25:58'],
  ['The Stowaway’s Receipt', '23:40'],
  ['Winter Timetable', '26:22'],
  ['Gangway', '25:05'],
];

function ferry(
  season: number,
  year: number,
  lines: readonly (readonly [string, string])[],
  from: number,
  to: number,
): ReferenceRelease {
  const id =
    from === 1 && to === lines.length ? `ferry-inspector-${season}` : `ferry-inspector-${season}-${from}`;
  const entries = lines.slice(from - 1, to).map(([title, length], index): ReferenceEntry => ({
    id: `ferry-${season}-${from + index}`,
    number: from + index,
    disc: season,
    title,
    artist: null,
    lengthSeconds: clock(length),
    date: `${year}-${String(1 + Math.floor((from + index) / 4)).padStart(2, '0')}-${String(1 + (((from + index) * 7) % 28)).padStart(2, '0')}`,
    description: `The inspector and the crew of the Skarra ferry: ${title}.`,
    hasLyrics: false,
  }));
  return {
    ...BASE,
    id,
    type: 'series',
    source: 'Series Almanac',
    title: 'The Ferry Inspector',
    maker: 'M. Aldous',
    year,
    genre: 'drama',
    season,
    description: 'An inspector, a ferry, and a sound that keeps its secrets.',
    entries,
    orders: ordersOf(entries, season === 1 ? 0 : FERRY_ONE.length),
  };
}

/** On disc, numbers 9 and 10 stand the other way round; the running number counts on over seasons. */
function ordersOf(entries: readonly ReferenceEntry[], before: number): ReferenceOrder[] {
  const pressed = [...entries];
  const nine = pressed.findIndex(({ id }) => id === 'ferry-1-9');
  if (nine >= 0) pressed.splice(nine, 2, ...pressed.slice(nine, nine + 2).reverse());
  return [
    {
      name: 'disc',
      entries: pressed.map(({ id }, index) => ({ id, number: (entries[0]?.number ?? 1) + index })),
    },
    { name: 'running', entries: entries.map(({ id, number }) => ({ id, number: before + number })) },
  ];
}

/** The extras of the second disc come with its episodes. */
function secondDisc(): ReferenceRelease {
  const disc = ferry(1, 2017, FERRY_ONE, 7, 12);
  const extras: readonly Line[] = [
    ['How We Built the Ferry', 420],
    ['The Trial Crossing', 1630],
  ];
  const more = entriesOf('ferry-1-x', extras, 13).map((entry) => ({ ...entry, disc: 1 }));
  const entries = [...disc.entries, ...more];
  return { ...disc, entries, orders: ordersOf(entries, 0) };
}

const BOOKS: readonly ReferenceRelease[] = [
  {
    ...BASE,
    id: 'wreckmasters-daughters',
    type: 'audiobook',
    source: 'Reading Room',
    title: 'The Wreckmaster’s Daughters',
    maker: 'Ines Marrable',
    narrator: 'Tove Askeland',
    year: 2012,
    genre: 'Audiobook',
    entries: entriesOf('wreckmasters', [
      ['The Channel by Heart', 41],
      ['Marit', 66],
      ['What the Tide Owed', 52],
      ['Sunniva', 73],
      ['Lead and Line', 48],
      ['Gro', 59],
      ['Three Lanterns', 81],
      ['The Assessor Comes', 44],
      ['Cargo', 63],
      ['By Heart, in the Dark', 57],
    ]),
  },
  {
    ...BASE,
    id: 'lamp-keepers-almanac',
    type: 'audiobook',
    source: 'Reading Room',
    title: 'The Lamp Keeper’s Almanac',
    maker: 'Ines Marrable',
    narrator: 'Ines Marrable',
    year: 2008,
    genre: 'Audiobook',
    entries: entriesOf('almanac', [['The Lamp Keeper’s Almanac', 210]]),
  },
];

const PODCASTS: readonly ReferenceRelease[] = [
  {
    ...BASE,
    id: 'slack-water',
    type: 'podcast',
    source: 'Harbour Index',
    title: 'Slack Water',
    maker: 'Skarra Harbour Radio',
    year: 2022,
    genre: 'Podcast',
    entries: entriesOf(
      'slack-water',
      [
        [
          'The Pilot’s Notebook',
          118,
          { date: '2024-05-03', description: 'A pilot reads from forty years of notes.' },
        ],
        [
          'Ropes and Herring',
          111,
          { date: '2024-05-10', description: 'Tides, ropes, and the price of herring.' },
        ],
        [
          'Who Owns the Foreshore?',
          126,
          { date: '2024-05-17', description: 'A dispute as old as the harbour.' },
        ],
      ],
      30,
    ),
  },
];

export const HOUSEHOLD: readonly ReferenceRelease[] = [
  ...ALBUMS,
  secondDisc(),
  ferry(1, 2017, FERRY_ONE, 1, 12),
  ferry(2, 2018, FERRY_TWO, 1, 6),
  ...BOOKS,
  ...PODCASTS,
];
