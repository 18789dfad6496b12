/**
 * A fingerprint is a row of 32-bit numbers, one for about an eighth of a second of sound. Alike sounds have
 * numbers that differ in few bits, whatever the format.
 */
export type Fingerprint = Uint32Array;

/** Seconds of sound that a fingerprint covers at the most. */
export const FINGERPRINT_SECONDS = 120;
/** Share of differing bits up to which two fingerprints are of one recording. */
export const SAME_SOUND = 0.2;
/** The most numbers by which one may be shifted against the other: leading silence, or a start that was cut. */
const MOST_LAG = 80;
/** Numbers that must overlap before a comparison means anything, about five seconds. */
const LEAST_OVERLAP = 40;

const BITS = Uint8Array.from({ length: 65_536 }, (_, value) => {
  let count = 0;
  for (let rest = value; rest > 0; rest &= rest - 1) count++;
  return count;
});
const bitsOf = (value: number) => (BITS[value & 0xffff] as number) + (BITS[value >>> 16] as number);

/** Share of differing bits (0 to 1) at the best alignment; null if they are too short to compare. */
export function soundDistance(a: Fingerprint, b: Fingerprint): number | null {
  let best: number | null = null;
  for (let lag = -MOST_LAG; lag <= MOST_LAG; lag++) {
    const share = shareAt(a, b, lag);
    if (share !== null && (best === null || share < best)) best = share;
  }
  return best;
}

function shareAt(a: Fingerprint, b: Fingerprint, lag: number): number | null {
  const start = Math.max(0, lag);
  const end = Math.min(a.length, b.length + lag);
  if (end - start < LEAST_OVERLAP) return null;
  let differing = 0;
  for (let at = start; at < end; at++)
    differing += bitsOf(((a[at] as number) ^ (b[at - lag] as number)) >>> 0);
  return differing / ((end - start) * 32);
}

/** As text: base64 of the numbers, least byte first. */
export function fingerprintText(print: Fingerprint): string {
  const view = new DataView(new ArrayBuffer(print.length * 4));
  print.forEach((value, index) => view.setUint32(index * 4, value, true));
  let binary = '';
  for (let at = 0; at < view.byteLength; at++) binary += String.fromCharCode(view.getUint8(at));
  return btoa(binary);
}

/** @throws {RangeError} when the text is no fingerprint */
export function parseFingerprint(text: string): Fingerprint {
  let binary: string;
  try {
    binary = atob(text);
  } catch {
    throw new RangeError('not base64');
  }
  if (binary.length % 4 !== 0) throw new RangeError('not a whole row of numbers');
  const bytes = Uint8Array.from(binary, (letter) => letter.charCodeAt(0));
  const view = new DataView(bytes.buffer);
  return Uint32Array.from({ length: bytes.length / 4 }, (_, index) => view.getUint32(index * 4, true));
}
