import { COEFFICIENT_SHIFT } from './layout';

/** Coefficients as a stream begins with them. */
export function firstCoefficients(): Int16Array {
  const coefficients = new Int16Array(16);
  coefficients[0] = (38 << COEFFICIENT_SHIFT) >> 4;
  coefficients[1] = (-29 << COEFFICIENT_SHIFT) >> 4;
  coefficients[2] = (-2 << COEFFICIENT_SHIFT) >> 4;
  return coefficients;
}

/**
 * What is left of samples once they are predicted from those before. The coefficients learn as they go, by the sign of
 * each residual alone, so that a decoder that sees the residuals learns the same.
 * @param bits of a sample: sums beyond them wrap round
 */
export function residualsOf(
  samples: Int32Array,
  into: Int32Array,
  count: number,
  coefficients: Int16Array,
  order: number,
  bits: number,
): void {
  const shift = 32 - bits;
  const half = 1 << (COEFFICIENT_SHIFT - 1);
  into[0] = samples[0]!;
  for (let at = 1; at <= order && at < count; at++)
    into[at] = ((samples[at]! - samples[at - 1]!) << shift) >> shift;
  for (let at = order + 1; at < count; at++) {
    const top = samples[at - order - 1]!;
    let sum = 0;
    for (let k = 0; k < order; k++) sum = (sum + Math.imul(coefficients[k]!, samples[at - 1 - k]! - top)) | 0;
    const residual = ((samples[at]! - top - ((sum + half) >> COEFFICIENT_SHIFT)) << shift) >> shift;
    into[at] = residual;
    learn(samples, at, top, residual, coefficients, order);
  }
}

/** Samples again from their residuals, which they take the place of. */
export function samplesOf(
  residuals: Int32Array,
  count: number,
  coefficients: Int16Array,
  order: number,
  bits: number,
  denominator: number,
): void {
  const shift = 32 - bits;
  const half = denominator > 0 ? 1 << (denominator - 1) : 0;
  if (order === 0) return;
  const first = order === 31 ? count - 1 : order;
  for (let at = 1; at <= first && at < count; at++)
    residuals[at] = ((residuals[at]! + residuals[at - 1]!) << shift) >> shift;
  for (let at = first + 1; at < count; at++) {
    const top = residuals[at - order - 1]!;
    let sum = 0;
    for (let k = 0; k < order; k++)
      sum = (sum + Math.imul(coefficients[k]!, residuals[at - 1 - k]! - top)) | 0;
    const residual = residuals[at]!;
    learn(residuals, at, top, residual, coefficients, order, denominator);
    residuals[at] = ((residual + top + ((sum + half) >> denominator)) << shift) >> shift;
  }
}

/** Moves coefficients by one, from the oldest on, until they would have foretold it. */
function learn(
  samples: Int32Array,
  at: number,
  top: number,
  residual: number,
  coefficients: Int16Array,
  order: number,
  denominator: number = COEFFICIENT_SHIFT,
): void {
  if (residual === 0) return;
  const isAbove = residual > 0;
  let left = residual;
  for (let k = order - 1; k >= 0; k--) {
    const difference = top - samples[at - 1 - k]!;
    const sign = difference > 0 ? 1 : difference < 0 ? -1 : 0;
    const size = (isAbove ? sign : -sign) * difference;
    coefficients[k]! -= isAbove ? sign : -sign;
    left -= (order - k) * (size >> denominator);
    if (isAbove ? left <= 0 : left >= 0) return;
  }
}
