import { chaptersOf, fieldsOf, frontPicture, kindOf, timedOf, type Fields, type Item } from '../items';
import type { Kind } from '../kinds';

/** What players show of an item, in the order of a completeness strip. */
export const ASPECTS = [
  'title',
  'maker',
  'release',
  'number',
  'year',
  'genre',
  'picture',
  'words',
  'chapters',
] as const;
export type Aspect = (typeof ASPECTS)[number];

/** What is asked of each kind. What is not cannot be a gap. */
const ASKED: Readonly<Record<Kind, readonly Aspect[]>> = {
  song: ['title', 'maker', 'release', 'number', 'year', 'genre', 'picture', 'words'],
  musicVideo: ['title', 'maker', 'release', 'year', 'genre', 'picture'],
  audiobook: ['title', 'maker', 'release', 'number', 'year', 'genre', 'picture', 'chapters'],
  podcast: ['title', 'maker', 'release', 'number', 'year', 'picture', 'words', 'chapters'],
  film: ['title', 'maker', 'year', 'genre', 'picture', 'words'],
  episode: ['title', 'release', 'number', 'year', 'genre', 'picture', 'words'],
  homeVideo: ['title', 'release', 'year', 'picture'],
  ambience: ['title', 'release', 'genre', 'picture'],
  ringtone: ['title', 'maker'],
};
const OF_NO_KIND: readonly Aspect[] = ['title', 'maker', 'release'];

const HAS: Readonly<Record<Aspect, (fields: Fields, item: Item) => boolean>> = {
  title: ({ title }) => title !== null,
  maker: ({ artist, albumArtist, compilation, narrator }) =>
    artist !== null || albumArtist !== null || narrator !== null || compilation === true,
  release: ({ album, show }) => album !== null || show !== null,
  number: ({ track, episode }) => track !== null || episode !== null,
  year: ({ date }) => date !== null,
  genre: ({ genre }) => genre !== null,
  picture: (_, item) => hasPicture(item),
  words: ({ lyrics, description }, item) =>
    lyrics !== null || description !== null || timedOf(item).length > 0,
  chapters: (_, item) => chaptersOf(item).length > 0,
};

const bitsOf = (aspects: readonly Aspect[]): number =>
  aspects.reduce((bits, aspect) => bits | (1 << ASPECTS.indexOf(aspect)), 0);
const [NUMBER, CHAPTERS] = [bitsOf(['number']), bitsOf(['chapters'])];
const ASKED_BITS = new Map<Kind | null, number>([
  [null, bitsOf(OF_NO_KIND)],
  ...Object.entries(ASKED).map(([kind, aspects]) => [kind as Kind, bitsOf(aspects)] as const),
]);

/** Whether there is a picture of it, in its file or since. */
export const hasPicture = (item: Item): boolean => frontPicture(item) !== null;

/** What is asked of an item and what of that it has: a bit for each of `ASPECTS`, the first one lowest. */
export interface Fullness {
  readonly asked: number;
  readonly filled: number;
}

export function fullnessOf(item: Item): Fullness {
  const kind = kindOf(item);
  const fields = fieldsOf(item);
  let asked = ASKED_BITS.get(kind) ?? 0;
  let filled = 0;
  for (let index = 0; index < ASPECTS.length; index++)
    if (asked & (1 << index) && HAS[ASPECTS[index] as Aspect](fields, item)) filled |= 1 << index;
  // A book in one file has chapters, one in several is numbered: either puts it in order.
  if (kind === 'audiobook') {
    if (filled & CHAPTERS && !(filled & NUMBER)) asked &= ~NUMBER;
    else if (filled & NUMBER && !(filled & CHAPTERS)) asked &= ~CHAPTERS;
  }
  return { asked, filled };
}

/** Whether an item is asked for something and lacks it. */
export const lacks = (item: Item, aspect: Aspect): boolean => {
  const { asked, filled } = fullnessOf(item);
  return (asked & ~filled & (1 << ASPECTS.indexOf(aspect))) !== 0;
};

/** How much of what is asked some items have, kept as they come and go. */
export class FullnessTally {
  /** Items that are asked for each aspect, and those of them that have it, in the order of `ASPECTS`. */
  readonly asked = new Array<number>(ASPECTS.length).fill(0);
  readonly filled = new Array<number>(ASPECTS.length).fill(0);

  count({ asked, filled }: Fullness, by: 1 | -1): void {
    for (let index = 0; index < ASPECTS.length; index++) {
      this.asked[index] = (this.asked[index] ?? 0) + by * ((asked >> index) & 1);
      this.filled[index] = (this.filled[index] ?? 0) + by * ((filled >> index) & 1);
    }
  }

  /** Of all that is asked, from 0 to 1; 1 where nothing is. */
  share(): number {
    return shareOf(sum(this.filled), sum(this.asked));
  }

  /** The same of one aspect; null where nobody is asked for it. */
  shareOf(aspect: Aspect): number | null {
    const at = ASPECTS.indexOf(aspect);
    const asked = this.asked[at] ?? 0;
    return asked === 0 ? null : (this.filled[at] ?? 0) / asked;
  }
}

const sum = (counts: readonly number[]): number => counts.reduce((all, count) => all + count, 0);
const shareOf = (filled: number, asked: number): number => (asked === 0 ? 1 : filled / asked);
