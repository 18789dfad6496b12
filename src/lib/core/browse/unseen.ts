/** How two texts can differ without it being seen. */
export const UNSEEN = ['blanks', 'form', 'alike', 'case'] as const;
export type Unseen = (typeof UNSEEN)[number];

/** Letters of other scripts, and signs, that look like one of ASCII. */
const ALIKE = new Map<string, string>(
  [
    ['аеорсухіјѕһԁԛԝ', 'aeopcyxijshdqw'],
    ['АВЕЗКМНОРСТУХІЈЅԌ', 'ABE3KMHOPCTYXIJSG'],
    ['ονιρυαγκ', 'ovipuayk'],
    ['ΑΒΕΖΗΙΚΜΝΟΡΤΥΧ', 'ABEZHIKMNOPTYX'],
    ['‘’‚‛′`´', "'''''''"],
    ['“”„‟″', '"""""'],
    ['‐‑‒–—−', '------'],
  ].flatMap(([from = '', to = '']) => [...from].map((letter, at) => [letter, to[at] ?? ''] as const)),
);

/** Blanks that are none of ASCII, and what takes no room at all. */
const BLANK = /[\s\u00a0\u2000-\u200b\u202f\u2060\u3000\ufeff]+/g;

const WITHOUT: Readonly<Record<Unseen, (text: string) => string>> = {
  blanks: (text) => text.replace(BLANK, ' ').trim(),
  form: (text) => text.normalize('NFC'),
  alike: (text) => text.replace(/./gsu, (letter) => ALIKE.get(letter) ?? letter),
  case: (text) => text.toLowerCase(),
};

const plain = (text: string, but: Unseen | null): string =>
  UNSEEN.reduce((left, one) => (one === but ? left : WITHOUT[one](left)), text);

/** How two texts differ where it is not seen; empty where they are the same, and where what is seen differs. */
export function unseenBetween(one: string, other: string): readonly Unseen[] {
  if (one === other || plain(one, null) !== plain(other, null)) return [];
  const found = UNSEEN.filter((but) => plain(one, but) !== plain(other, but));
  // One hides behind the other where either would do: then all that each does by itself is told.
  return found.length > 0 ? found : UNSEEN.filter((only) => WITHOUT[only](one) === WITHOUT[only](other));
}

/** A piece of a text, and whether something of it is not what it looks like. */
export interface DrawnPiece {
  readonly text: string;
  readonly marked: boolean;
}

/** A text so that what is not seen of it is: blanks at its ends, doubled and odd ones, letters that only look like others. */
export function drawnPieces(text: string, wanted: string): readonly DrawnPiece[] {
  const letters = [...text.normalize('NFC')];
  const meant = [...wanted.normalize('NFC')];
  const byPlace = letters.length === meant.length;
  const pieces: DrawnPiece[] = [];
  const add = (piece: string, marked: boolean) => {
    const last = pieces.at(-1);
    if (last?.marked === marked) pieces[pieces.length - 1] = { text: last.text + piece, marked };
    else pieces.push({ text: piece, marked });
  };
  for (const [at, letter] of letters.entries()) {
    const isBlank = letter.replace(BLANK, '') === '';
    const isEnd = at === 0 || at === letters.length - 1;
    const before = letters[at - 1] ?? '';
    const isOdd = isBlank && (letter !== ' ' || isEnd || before === ' ');
    const other = byPlace ? meant[at] : undefined;
    const isOther = other !== undefined && other !== letter && plain(other, null) === plain(letter, null);
    if (isOdd) add('␣', true);
    else
      add(letter, isOther || (ALIKE.has(letter) && /\p{L}/u.test(letter) && !/[\u0370-\u04ff]/.test(wanted)));
  }
  return pieces;
}
