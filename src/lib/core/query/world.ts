import { formatISO, sub } from 'date-fns';
import type { ArrivalId, ItemId } from '../items';
import type { Asked } from './asked';

/** Answers to queries that do not come from the item itself. */
export interface QueryWorld {
  /** Milliseconds since 1970. */
  readonly now: number;
  /** Names of lists and players; null if unknown, in which case every name is accepted. */
  readonly lists: readonly string[] | null;
  readonly players: readonly string[];
  /** When an arrival came, in milliseconds since 1970; null if unknown. */
  readonly addedAt: (arrival: ArrivalId) => number | null;
  /** Names of the lists that contain an item. */
  readonly listsOf: (item: ItemId) => readonly string[];
  /** Names of the players that have it. */
  readonly playersOf: (item: ItemId) => readonly string[];
  /** Names of the players that play it as it is. */
  readonly playsOn: (asked: Asked) => readonly string[];
  /** How often it was played to the end, and when last, in milliseconds since 1970; null if never. */
  readonly playsOf: (item: ItemId) => { readonly count: number; readonly at: number } | null;
}

const NONE: readonly string[] = [];

/** A world in which only the time is known. */
export const nowhere = (now = Date.now()): QueryWorld => ({
  now,
  lists: null,
  players: NONE,
  addedAt: () => null,
  listsOf: () => NONE,
  playersOf: () => NONE,
  playsOn: () => NONE,
  playsOf: () => null,
});

/** The date of a moment in the curator's time zone, such as 2026-03-31. */
export const dayOf = (at: number): string => formatISO(at, { representation: 'date' });

const UNITS: Readonly<Record<string, 'days' | 'weeks' | 'months' | 'years'>> = {
  ...{ day: 'days', days: 'days', week: 'weeks', weeks: 'weeks' },
  ...{ month: 'months', months: 'months', year: 'years', years: 'years' },
};

/** The first day of the last days, weeks, months or years; null if the unit is unknown. */
export function firstDayOf(count: number, unit: string, now: number): string | null {
  const name = UNITS[unit];
  return name ? dayOf(sub(now, { [name]: count }).getTime()) : null;
}
