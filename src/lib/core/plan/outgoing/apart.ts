import { FORMAT_NAMES, isLossless, type ItemId } from '../../items';
import { madeOf, resolutionOf } from '../../naming';
import type { PlanItem } from './plan-item';
import type { PlayerChoices, WayApart } from '../choices';

/** What editions and files of one name are told apart by. */
export type Told = Pick<
  PlanItem,
  'path' | 'fields' | 'format' | 'size' | 'durationSeconds' | 'streams' | 'file' | 'outgoing'
>;

/** An item that would get the name of another one, and what tells them apart. */
export interface Rival {
  readonly item: ItemId;
  /** Who has the name. */
  readonly holder: ItemId;
  /** What could stand behind its name; null where nothing in the files tells them apart. */
  readonly mark: string | null;
  /** Above zero where it is better than the holder. */
  readonly better: number;
}

/** Bits of the file for each second, in thousands; null where its length is not known. */
const rateOf = ({ size, durationSeconds }: Told): number | null =>
  durationSeconds ? Math.round((size * 8) / durationSeconds / 1000) : null;

const heardAt = ({ streams }: Told): number =>
  streams.reduce((most, { sampleRate }) => Math.max(most, sampleRate ?? 0), 0);

/** Languages of several tracks of sound, or of the one that is there. */
const soundLanguages = (item: Told): string | null => madeOf(item, 'soundLanguages');

/** What an item's file is, as a word that tells it from another one's; null where both are alike. */
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

/** By what is lost, by the picture, by the sound. */
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
 * What a file is, in a few words, for a curator to tell it from another.
 * @param withRate its bits a second too, which differ from title to title
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

/** The ways out for all rivals of one name. */
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
