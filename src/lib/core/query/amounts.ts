import { DATE } from '../items';
import type { NameType } from './names';

/** An amount for comparison. A date keeps its precision: `2019` is the whole year. */
export type Amount = number | string;

const BYTES: Readonly<Record<string, number>> = { b: 1, kb: 1e3, mb: 1e6, gb: 1e9, tb: 1e12 };
const SECONDS: Readonly<Record<string, number>> = {
  ...{ s: 1, sec: 1, secs: 1, second: 1, seconds: 1 },
  ...{ min: 60, mins: 60, minute: 60, minutes: 60, h: 3600, hour: 3600, hours: 3600 },
};
const OTHERS: Readonly<Record<string, number>> = { hz: 1, khz: 1e3, db: 1 };

/** @param text in lower case; a unit may follow a number, with or without a space. Null if it is not such an amount */
export function readAmount(text: string, type: NameType): Amount | null {
  if (type === 'date') return DATE.test(text) ? text : null;
  const clock = type === 'seconds' ? /^(?:(\d+):)?(\d{1,3}):(\d{2})$/.exec(text) : null;
  if (clock) return Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3]);
  const [, digits, unit = ''] = /^(-?\d+(?:\.\d+)?) ?([a-z]*)$/.exec(text) ?? [];
  if (digits === undefined) return null;
  const units = type === 'bytes' ? BYTES : type === 'seconds' ? SECONDS : OTHERS;
  const factor = unit === '' ? 1 : units[unit];
  return factor === undefined ? null : Number(digits) * factor;
}
