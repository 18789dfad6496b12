/** Numbers in texts count as numbers; letter case and accents decide last. */
const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'variant' });

/** Longer runs of digits are left to the collator, which splits them. */
const MOST_DIGITS = 200;
const [FIRST, LAST] = [0x20, 0x7e];

/**
 * The primary weight of each printable ASCII character as one character, by the collator's own order (UTS 10, section
 * 1.1): letters that differ in case alone weigh the same.
 */
const PRIMARY: readonly string[] = primaryWeights();

function primaryWeights(): readonly string[] {
  const base = new Intl.Collator('en', { sensitivity: 'base' });
  const characters = Array.from({ length: LAST - FIRST + 1 }, (_, at) => String.fromCharCode(FIRST + at));
  const sorted = [...characters].sort(base.compare);
  const weights: string[] = [];
  let weight = FIRST;
  for (const [at, character] of sorted.entries()) {
    if (at > 0 && base.compare(sorted[at - 1] as string, character) !== 0) weight++;
    weights[character.charCodeAt(0)] = String.fromCharCode(weight);
  }
  return weights;
}

const isDigit = (code: number): boolean => code >= 0x30 && code <= 0x39;

/**
 * A key whose order by code units is the order of the collator; null for a text that is not plain ASCII. Comparing keys
 * takes a tenth of the time, and sorting 100,000 texts compares nearly two million times.
 */
export function collationKey(text: string): string | null {
  let primary = '';
  let cases = '';
  let lastCapital = 0;
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (code < FIRST || code > LAST) return null;
    if (isDigit(code)) {
      // By how many digits there are, and then by these; zeros in front count for nothing.
      let from = at;
      while (isDigit(text.charCodeAt(at + 1))) at++;
      while (from < at && text.charCodeAt(from) === 0x30) from++;
      const length = at - from + 1;
      if (length > MOST_DIGITS) return null;
      primary += (PRIMARY[0x30] as string) + String.fromCharCode(FIRST + length) + text.slice(from, at + 1);
      cases += '0';
      continue;
    }
    primary += PRIMARY[code] as string;
    const isCapital = code >= 0x41 && code <= 0x5a;
    cases += isCapital ? '1' : '0';
    if (isCapital) lastCapital = cases.length;
  }
  return lastCapital === 0 ? primary : `${primary}\u0001${cases.slice(0, lastCapital)}`;
}

/** A text with its key, made once for many comparisons. */
export interface Collated {
  readonly text: string;
  readonly key: string | null;
}

export const collated = (text: string): Collated => ({ text, key: collationKey(text) });

export function compareCollated(a: Collated, b: Collated): number {
  if (a.key === null || b.key === null) return collator.compare(a.text, b.text);
  return a.key < b.key ? -1 : a.key > b.key ? 1 : 0;
}

export const compareTexts = (a: string, b: string): number => collator.compare(a, b);
