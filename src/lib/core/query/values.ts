import { foldCase } from '../naming';
import type { Asked } from './asked';
import type { QueryName } from './names';
import { nowhere } from './world';

/** Values of one name, each with how many items have it; the most frequent first. */
export type ValueCounts = readonly (readonly [value: string, count: number])[];

const AT_ONCE = 1500;

/** Counts the values that items have of a name. Each step is short. */
export function* countValues<T>(
  items: readonly T[],
  asked: (item: T) => Asked,
  { of }: QueryName,
  world = nowhere(),
): Generator<void, ValueCounts> {
  const counts = new Map<string, number>();
  for (let at = 0; at < items.length; at++) {
    for (const value of of(asked(items[at] as T), world)) {
      const text = String(value);
      counts.set(text, (counts.get(text) ?? 0) + 1);
    }
    if (at % AT_ONCE === AT_ONCE - 1) yield;
  }
  return [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
}

/** Values that begin with a text, then those that contain it, ignoring case. */
export function valuesLike(counts: ValueCounts, typed: string, most: number): ValueCounts {
  const wanted = foldCase(typed);
  const begin: (readonly [string, number])[] = [];
  const others: (readonly [string, number])[] = [];
  for (const one of counts) {
    const at = foldCase(one[0]).indexOf(wanted);
    if (at === 0) begin.push(one);
    else if (at > 0 && others.length < most) others.push(one);
    if (begin.length === most) break;
  }
  return [...begin, ...others].slice(0, most);
}
