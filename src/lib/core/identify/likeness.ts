/** Words that distinguish releases of one title but are often left out of names. */
const NOISE =
  /\b(remaster(ed)?|explicit|official|video|audio|lyrics?|hd|hq|1080p|720p|2160p|480p|x26[45]|h26[45]|web ?rip|dvd ?rip|flac|mp3|aac)\b/g;

const plainTexts = new Map<string, string>();
const MOST_KEPT = 50_000;

/** A text for comparison: lower case, without accents, punctuation and source marks, with single spaces. */
export function plainText(text: string): string {
  let plain = plainTexts.get(text);
  if (plain === undefined) {
    plain = text
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .replace(/['\u2019]/g, '')
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .replace(NOISE, ' ')
      .replace(/ +/g, ' ')
      .trim();
    if (plainTexts.size >= MOST_KEPT) plainTexts.clear();
    plainTexts.set(text, plain);
  }
  return plain;
}

const grams = new Map<string, ReadonlyMap<string, number>>();

/** Pairs of neighbouring letters with their counts. */
function gramsOf(plain: string): ReadonlyMap<string, number> {
  let counts = grams.get(plain);
  if (!counts) {
    const made = new Map<string, number>();
    const framed = ` ${plain} `;
    for (let at = 0; at + 2 <= framed.length; at++) {
      const gram = framed.slice(at, at + 2);
      made.set(gram, (made.get(gram) ?? 0) + 1);
    }
    counts = made;
    if (grams.size >= MOST_KEPT) grams.clear();
    grams.set(plain, counts);
  }
  return counts;
}

/** How alike two texts are, from 0 to 1: shared letter pairs over all of them (Dice). 0 when one is empty. */
export function likeness(a: string, b: string): number {
  const [plainA, plainB] = [plainText(a), plainText(b)];
  if (plainA === '' || plainB === '') return 0;
  if (plainA === plainB) return 1;
  const [gramsA, gramsB] = [gramsOf(plainA), gramsOf(plainB)];
  let shared = 0;
  for (const [gram, count] of gramsA) shared += Math.min(count, gramsB.get(gram) ?? 0);
  return (2 * shared) / (plainA.length + plainB.length + 2);
}

/** The same, but a text that contains the other as whole words is nearly alike. */
export function holdsLikeness(long: string, short: string): number {
  const [plainLong, plainShort] = [plainText(long), plainText(short)];
  const whole = plainShort.length >= 4 && ` ${plainLong} `.includes(` ${plainShort} `);
  return Math.max(likeness(long, short), whole ? 0.86 : 0);
}
