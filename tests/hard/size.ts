/**
 * Trials run at two sizes: in `npm test` a seeded part of each, in `npm run hard` the whole.
 * Nothing else differs between the two.
 */
export const FULL = process.env.LECTORUM_HARD === 'full';

/** The full figure, or a smaller one for every test run. */
export const sized = (full: number, part: number): number => (FULL ? full : part);

/** Milliseconds that one trial may take. */
export const TRIAL_TIME = FULL ? 3_600_000 : 600_000;

/** Every nth of a list, beginning with one that depends on the seed, so that parts of a trial differ. */
export function sample<T>(list: readonly T[], most: number, seed = 0): readonly T[] {
  if (list.length <= most) return list;
  const step = list.length / most;
  return Array.from({ length: most }, (_, index) => list[Math.floor(index * step + (seed % step))] as T);
}

/** A small seeded generator of numbers from 0 up to 1. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** Tells what a trial went through; `scripts/hard.mjs` gathers these lines. */
export function tell(trial: string, figures: Readonly<Record<string, number | string>>): void {
  const words = Object.entries(figures).map(([name, value]) => `${name} ${value}`);
  process.stdout.write(`trial: ${trial}: ${words.join(', ')}\n`);
}

/** Milliseconds that this process has computed: one that a busy machine let wait has not been slow. */
export function computed(): number {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
}
