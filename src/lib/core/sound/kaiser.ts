/** The modified Bessel function of the first kind, of order zero. */
export function bessel(x: number): number {
  let sum = 1;
  let term = 1;
  for (let k = 1; term > sum * 1e-12; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** The shape of a Kaiser window for a filter with this attenuation in decibels. */
export const kaiserBeta = (stopDb: number): number => 0.1102 * (stopDb - 8.7);

/** Taps that such a filter takes. @param width from what passes to what is stopped, in radians a sample */
export const kaiserTaps = (stopDb: number, width: number): number => (stopDb - 8) / (2.285 * width);
