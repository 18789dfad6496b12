import type { FieldName } from '$lib/core/items';
import type { Kind } from '$lib/core/kinds';

/** Questions of the card that fields answer. */
export type CardSection = 'belong' | 'made' | 'said';

/** What says where an item of an album belongs. */
const ALBUM: readonly FieldName[] = [
  'title',
  'album',
  'edition',
  'albumArtist',
  'date',
  'track',
  'tracks',
  'disc',
  'discs',
  'compilation',
];
/** All fields of each question, in the order in which they stand where no kind has an order of its own. */
const ALL: Readonly<Record<CardSection, readonly FieldName[]>> = {
  belong: [
    'title',
    'show',
    'season',
    'episode',
    'series',
    'part',
    'outsideNumber',
    ...ALBUM.filter((name) => name !== 'title'),
    'titleSort',
    'albumSort',
    'albumArtistSort',
  ],
  made: ['artist', 'composer', 'genre', 'narrator', 'artistSort'],
  said: ['description', 'lyrics', 'language', 'comment', 'notes', 'rating', 'trackGain', 'albumGain'],
};

/** What matters for a kind, in the order that matters for it. The others are one click away. */
const MAIN: Readonly<Record<Kind, readonly FieldName[]>> = {
  song: [...ALBUM, 'artist', 'composer', 'genre', 'lyrics'],
  musicVideo: ['title', 'album', 'albumArtist', 'date', 'edition', 'artist', 'genre', 'lyrics'],
  audiobook: [
    'title',
    'series',
    'part',
    'album',
    'albumArtist',
    'track',
    'tracks',
    'date',
    'artist',
    'narrator',
    'genre',
    'description',
    'language',
  ],
  podcast: [
    'show',
    'title',
    'season',
    'episode',
    'album',
    'date',
    'artist',
    'genre',
    'description',
    'language',
  ],
  film: ['title', 'date', 'edition', 'outsideNumber', 'artist', 'genre', 'description', 'language'],
  episode: [
    'show',
    'season',
    'episode',
    'title',
    'date',
    'outsideNumber',
    'genre',
    'description',
    'language',
  ],
  homeVideo: ['title', 'album', 'date', 'artist', 'description'],
  ambience: ['title', 'album', 'artist', 'genre', 'description'],
  ringtone: ['title', 'artist'],
};

/** Fields of a question for items of some kinds: those that matter to any of them, and the others. */
export function fieldsOnCard(
  kinds: readonly (Kind | null)[],
  section: CardSection,
): { readonly main: readonly FieldName[]; readonly others: readonly FieldName[] } {
  const all = ALL[section];
  const own = kinds.flatMap((kind) => (kind === null ? MAIN.song : MAIN[kind]));
  const main = [...new Set(own)].filter((name) => all.includes(name));
  return { main, others: all.filter((name) => !main.includes(name)) };
}
