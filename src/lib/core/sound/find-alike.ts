import { SAME_SOUND, soundDistance, type Fingerprint } from './fingerprint';

/** Two recordings that sound alike. */
export interface AlikePair {
  readonly a: string;
  readonly b: string;
  /** Share of differing bits, 0 to 1. */
  readonly distance: number;
}

/** Numbers that two fingerprints must share, whole, before they are compared bit by bit. */
const SHARED = 6;
/** A number in more fingerprints than this is not distinctive: silence, or a steady tone. */
const MOST_OWNERS = 60;

/**
 * Pairs of recordings that sound alike. They share whole numbers, so only recordings that do are compared: the work
 * grows with the recordings, not with their pairs.
 */
export function findAlikeSounds(
  prints: readonly { readonly id: string; readonly print: Fingerprint }[],
): readonly AlikePair[] {
  const owners = new Map<number, number[]>();
  for (const [index, { print }] of prints.entries())
    for (const value of new Set(print)) {
      const list = owners.get(value);
      if (list) list.push(index);
      else owners.set(value, [index]);
    }
  const shared = new Map<number, number>();
  for (const list of owners.values()) {
    if (list.length < 2 || list.length > MOST_OWNERS) continue;
    for (let first = 0; first < list.length; first++)
      for (let second = first + 1; second < list.length; second++) {
        const key = (list[first] as number) * prints.length + (list[second] as number);
        shared.set(key, (shared.get(key) ?? 0) + 1);
      }
  }
  const pairs: AlikePair[] = [];
  for (const [key, count] of shared) {
    if (count < SHARED) continue;
    const [a, b] = [prints[Math.floor(key / prints.length)], prints[key % prints.length]];
    if (!a || !b) continue;
    const distance = soundDistance(a.print, b.print);
    if (distance !== null && distance <= SAME_SOUND) pairs.push({ a: a.id, b: b.id, distance });
  }
  return pairs;
}
