import { formatISO, sub } from 'date-fns';
import type { ArrivalId, ItemId } from '../items';
import type { Asked } from './asked';

/** What queries ask that no item says of itself. */
export interface QueryWorld {
  /** Milliseconds since 1970. */
  readonly now: number;
  /** Names of lists and of players; null where they are not known, and every name is taken. */
  readonly lists: readonly string[] | null;
  readonly players: readonly string[];
  /** When an arrival came, in milliseconds since 1970; null where that is not known. */
  readonly addedAt: (arrival: ArrivalId) => number | null;
  /** Names of the lists that an item stands in. */
  readonly listsOf: (item: ItemId) => readonly string[];
  /** Names of the players that have it. */
  readonly playersOf: (item: ItemId) => readonly string[];
  /** Names of the players that play it as it is. */
  readonly playsOn: (asked: Asked) => readonly string[];
  /** How often it was played to its end, and when last, in milliseconds since 1970; null where it never was. */
  readonly playsOf: (item: ItemId) => { readonly count: number; readonly at: number } | null;
}

const NONE: readonly string[] = [];

/** A world of which nothing is known but the time. */
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

/** The day of a moment where the curator is, such as 2026-03-31. */
export const dayOf = (at: number): string => formatISO(at, { representation: 'date' });

const UNITS: Readonly<Record<string, 'days' | 'weeks' | 'months' | 'years'>> = {
  ...{ day: 'days', days: 'days', week: 'weeks', weeks: 'weeks' },
  ...{ month: 'months', months: 'months', year: 'years', years: 'years' },
};

/** The first day of the last days, weeks, months or years; null for what is no such unit. */
export function firstDayOf(count: number, unit: string, now: number): string | null {
  const name = UNITS[unit];
  return name ? dayOf(sub(now, { [name]: count }).getTime()) : null;
}
