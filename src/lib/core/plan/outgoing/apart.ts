import { FORMAT_NAMES, isLossless, type ItemId } from '../../items';
import { madeOf, resolutionOf } from '../../naming';
import type { PlanItem } from './plan-item';
import type { PlayerChoices, WayApart } from '../choices';

/** The properties that distinguish editions and files of one name. */
export type Told = Pick<
  PlanItem,
  'path' | 'fields' | 'format' | 'size' | 'durationSeconds' | 'streams' | 'file' | 'outgoing'
>;

/** An item that would get the name of another, and what distinguishes them. */
export interface Rival {
  readonly item: ItemId;
  /** The item that keeps the name. */
  readonly holder: ItemId;
  /** Everything that distinguishes it from the holder and could be added to its name, the most telling first. */
  readonly marks: readonly string[];
  /** Positive if its quality is better than the holder's. */
  readonly better: number;
}

/** Bit rate in kbit/s; null if the length is unknown. */
const rateOf = ({ size, durationSeconds }: Told): number | null =>
  durationSeconds ? Math.round((size * 8) / durationSeconds / 1000) : null;

const heardAt = ({ streams }: Told): number =>
  streams.reduce((most, { sampleRate }) => Math.max(most, sampleRate ?? 0), 0);

/** Sound tracks beyond the first, such as commentaries. */
function moreSound(item: Told): string | null {
  const tracks = item.streams.filter(({ type }) => type === 'sound').length;
  return tracks > 1 ? `${tracks} sound tracks` : null;
}

/** Words for what a file is, the most telling first; null for what cannot be said of it. */
const PROPERTIES: readonly ((item: Told) => string | null)[] = [
  ({ fields }) => fields.edition,
  ({ streams }) => resolutionOf(streams),
  ({ format }) => FORMAT_NAMES[format],
  (item) => madeOf(item, 'soundLanguages'),
  (item) => {
    const languages = madeOf(item, 'subtitleLanguages');
    return languages && `subtitles ${languages}`;
  },
  moreSound,
  (item) => (heardAt(item) > 0 ? `${heardAt(item) / 1000} kHz` : null),
  (item) => {
    const rate = rateOf(item);
    return rate === null ? null : `${rate} kbit`;
  },
];

/** Words for all properties that distinguish a file from another, the most telling first. */
function marksOf(item: Told, other: Told): readonly string[] {
  return PROPERTIES.flatMap((of) => {
    const own = of(item);
    return own !== null && own !== of(other) ? [own] : [];
  });
}

/** A word for the property that distinguishes a file from another; null if they are alike. */
export const markOf = (item: Told, other: Told): string | null => marksOf(item, other)[0] ?? null;

/** By lossless or lossy, by the picture, by the sound. */
function betterBy(item: PlanItem, other: PlanItem): number {
  const lines = (one: PlanItem) => one.streams.reduce((most, { height }) => Math.max(most, height ?? 0), 0);
  return (
    lines(item) - lines(other) ||
    Number(isLossless(item.format)) - Number(isLossless(other.format)) ||
    heardAt(item) - heardAt(other) ||
    (rateOf(item) ?? 0) - (rateOf(other) ?? 0)
  );
}

export const rivalOf = (item: PlanItem, holder: PlanItem): Rival => ({
  item: item.id,
  holder: holder.id,
  marks: marksOf(item, holder),
  better: betterBy(item, holder),
});

/**
 * A short description of a file.
 * @param withRate with its bit rate, which differs from title to title
 */
export function inAFewWords(item: Told, withRate = true): string {
  const rate = withRate ? rateOf(item) : null;
  const hertz = heardAt(item);
  const words = [
    FORMAT_NAMES[item.format],
    resolutionOf(item.streams),
    hertz > 0 ? `${hertz / 1000} kHz` : null,
    rate === null ? null : `${rate} kbit/s`,
  ];
  return words.filter(Boolean).join(' ');
}

/**
 * A mark for each of them by what distinguishes it from the holder and from one another: as many properties as that
 * takes. Null if nothing in the files does.
 */
export function distinctMarks(rivals: readonly Rival[]): readonly string[] | null {
  const most = Math.max(...rivals.map(({ marks }) => marks.length));
  for (let count = 1; count <= most; count++) {
    const marks = rivals.map((rival) => rival.marks.slice(0, count).join(', '));
    if (!marks.includes('') && new Set(marks).size === marks.length) return marks;
  }
  return null;
}

/** The remedies for all items that share a name. */
export function waysApart(
  rivals: readonly Rival[],
): Readonly<Partial<Record<WayApart, Partial<PlayerChoices>>>> {
  const number = rivals.map(({ item }, index) => ({ item, text: ` (${index + 2})` }));
  const marks = distinctMarks(rivals);
  const best = rivals.reduce<Rival | null>((top, one) => (one.better > (top?.better ?? 0) ? one : top), null);
  const all = rivals.map(({ item }) => item);
  const holder = rivals.flatMap((one) => one.holder).slice(0, 1);
  const leftOut = best === null ? all : [...holder, ...all.filter((item) => item !== best.item)];
  return {
    ...(marks && {
      mark: { suffixes: rivals.map(({ item }, index) => ({ item, text: ` [${marks[index]}]` })) },
    }),
    number: { suffixes: number },
    better: { leftOut },
  };
}
