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
  /** Text that could be added to its name; null if nothing in the files distinguishes them. */
  readonly mark: string | null;
  /** Positive if its quality is better than the holder's. */
  readonly better: number;
}

/** Bit rate in kbit/s; null if the length is unknown. */
const rateOf = ({ size, durationSeconds }: Told): number | null =>
  durationSeconds ? Math.round((size * 8) / durationSeconds / 1000) : null;

const heardAt = ({ streams }: Told): number =>
  streams.reduce((most, { sampleRate }) => Math.max(most, sampleRate ?? 0), 0);

/** Languages of the audio tracks. */
const soundLanguages = (item: Told): string | null => madeOf(item, 'soundLanguages');

/** A word for the property that distinguishes a file from another; null if they are alike. */
export function markOf(item: Told, other: Told): string | null {
  const size = resolutionOf(item.streams);
  if (size !== null && size !== resolutionOf(other.streams)) return size;
  if (item.format !== other.format) return FORMAT_NAMES[item.format];
  const [spoken, others] = [soundLanguages(item), soundLanguages(other)];
  if (spoken !== null && spoken !== others) return spoken;
  const hertz = heardAt(item);
  if (hertz > 0 && hertz !== heardAt(other)) return `${hertz / 1000} kHz`;
  const rate = rateOf(item);
  return rate !== null && rate !== rateOf(other) ? `${rate} kbit` : null;
}

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
  mark: markOf(item, holder),
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

/** The remedies for all items that share a name. */
export function waysApart(
  rivals: readonly Rival[],
): Readonly<Partial<Record<WayApart, Partial<PlayerChoices>>>> {
  const number = rivals.map(({ item }, index) => ({ item, text: ` (${index + 2})` }));
  const marks = rivals.map(({ mark }) => mark);
  const isTold = !marks.includes(null) && new Set(marks).size === marks.length;
  const best = rivals.reduce<Rival | null>((top, one) => (one.better > (top?.better ?? 0) ? one : top), null);
  const all = rivals.map(({ item }) => item);
  const holder = rivals.flatMap((one) => one.holder).slice(0, 1);
  const leftOut = best === null ? all : [...holder, ...all.filter((item) => item !== best.item)];
  return {
    ...(isTold && {
      mark: { suffixes: rivals.map(({ item, mark }) => ({ item, text: ` [${mark}]` })) },
    }),
    number: { suffixes: number },
    better: { leftOut },
  };
}
