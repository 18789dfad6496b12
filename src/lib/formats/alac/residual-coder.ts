import type { BitReader } from './bit-reader';
import type { BitWriter } from './bit-writer';
import {
  ESCAPE_PREFIX,
  MEAN_SHIFT,
  MOST_MEAN,
  RUN_BITS,
  isQuiet,
  remainderBits,
  runBits,
  type AlacConfig,
} from './layout';

type Coding = Pick<AlacConfig, 'mean' | 'mostBits'> & { readonly history: number };

/** The longest run of zeros that is written at once. */
const LONGEST_RUN = 65_535;
/** Bits of a prefix and a remainder that are written together. */
const MOST_TOGETHER = 25;

/** Writes residuals by an adaptive Golomb code. @param bits of a residual that is written as it is */
export function putResiduals(
  out: BitWriter,
  residuals: Int32Array,
  count: number,
  bits: number,
  { mean: first, history, mostBits }: Coding,
): void {
  const most = (1 << mostBits) - 1;
  let mean = first;
  let isAfterRun = 0;
  let at = 0;
  while (at < count) {
    const residual = residuals[at++]!;
    const k = remainderBits(mean, mostBits);
    const value = (residual < 0 ? -2 * residual - 1 : 2 * residual) - isAfterRun;
    putNumber(out, value, (1 << k) - 1, k, bits);
    mean = following(mean, value, isAfterRun, history);
    isAfterRun = 0;
    if (!isQuiet(mean) || at >= count) continue;
    let run = 0;
    while (at < count && residuals[at] === 0 && run < LONGEST_RUN) {
      run++;
      at++;
    }
    const own = runBits(mean);
    putNumber(out, run, ((1 << own) - 1) & most, own, RUN_BITS);
    isAfterRun = run < LONGEST_RUN ? 1 : 0;
    mean = 0;
  }
}

/** Reads residuals as they were written. */
export function readResiduals(
  from: BitReader,
  into: Int32Array,
  count: number,
  bits: number,
  { mean: first, history, mostBits }: Coding,
): void {
  const most = (1 << mostBits) - 1;
  let mean = first;
  let isAfterRun = 0;
  let at = 0;
  while (at < count) {
    const k = remainderBits(mean, mostBits);
    const value = readNumber(from, (1 << k) - 1, k, bits);
    const whole = value + isAfterRun;
    into[at++] = whole & 1 ? -((whole + 1) / 2) : whole / 2;
    mean = following(mean, value, isAfterRun, history);
    isAfterRun = 0;
    if (!isQuiet(mean) || at >= count) continue;
    const own = runBits(mean);
    const run = readNumber(from, ((1 << own) - 1) & most, own, RUN_BITS);
    if (run > count - at) throw new RangeError('a run of zeros goes beyond its frame');
    into.fill(0, at, at + run);
    at += run;
    isAfterRun = run < LONGEST_RUN ? 1 : 0;
    mean = 0;
  }
}

function following(mean: number, value: number, isAfterRun: number, history: number): number {
  if (value > MOST_MEAN) return MOST_MEAN;
  return history * (value + isAfterRun) + mean - ((history * mean) >>> MEAN_SHIFT);
}

/** A number as a prefix of ones and a remainder; a remainder of none is a bit shorter. */
function putNumber(out: BitWriter, value: number, m: number, k: number, bits: number): void {
  const prefix = Math.floor(value / m);
  const remainder = value - prefix * m;
  const isNone = remainder === 0 ? 1 : 0;
  const length = prefix + k + 1 - isNone;
  if (prefix < ESCAPE_PREFIX && length <= MOST_TOGETHER)
    out.put((((1 << prefix) - 1) << (length - prefix)) + remainder + 1 - isNone, length);
  else {
    out.put((1 << ESCAPE_PREFIX) - 1, ESCAPE_PREFIX);
    out.put(value, bits);
  }
}

function readNumber(from: BitReader, m: number, k: number, bits: number): number {
  const prefix = from.ones(ESCAPE_PREFIX);
  return prefix === ESCAPE_PREFIX ? from.take(bits) : prefix * m + readRemainder(from, k);
}

/** What is below two is none, and has no last bit. */
function readRemainder(from: BitReader, k: number): number {
  if (k === 1) return 0;
  const short = from.peek(k);
  if (short < 2) {
    from.skip(k - 1);
    return 0;
  }
  from.skip(k);
  return short - 1;
}
