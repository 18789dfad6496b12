import {
  editItem,
  fieldText,
  fieldsOf,
  isNumeric,
  requireField,
  toTexts,
  type FieldName,
  type FieldValue,
  type Fields,
  type Item,
} from '../items';

/** What makes a value odd. */
export const ODDITIES = ['alike', 'letters', 'otherField', 'outOfRange', 'rare'] as const;
export type Oddity = (typeof ODDITIES)[number];

/** A value of one field, as items have it. */
export interface FieldValueRow {
  /** As text; of a list each of its values is one of its own. */
  readonly text: string;
  readonly count: number;
  /** Gravest first. */
  readonly odd: readonly Oddity[];
  /** The usual spelling, where it differs from that by letter case, blanks, accents or Unicode form alone. */
  readonly like: string | null;
  /** The field whose value it is as well, of one of its items. */
  readonly alsoIn: FieldName | null;
  /** The path of one of its items: a witness for what it should be. */
  readonly witness: string;
}

export interface FieldValues {
  /** The most frequent first. */
  readonly rows: readonly FieldValueRow[];
  /** Items that say nothing of it. */
  readonly without: number;
}

/** Letters of other alphabets that look like Latin ones (Unicode Technical Standard 39, confusables), in small letters. */
const LOOKALIKES: Readonly<Record<string, string>> = Object.fromEntries(
  [...'аaеeоoрpсcхxуyіiјjѕsһhԁdԛqԝwοoαaρpνvιiκkτtυuχx'].flatMap((letter, index, all) =>
    index % 2 === 0 ? [[letter, all[index + 1] as string]] : [],
  ),
);
const LOOKALIKE = new RegExp(`[${Object.keys(LOOKALIKES).join('')}]`, 'gu');
/** A word in which letters of Latin and of an alphabet that looks like it stand together. */
const MIXED_WORD =
  /\p{Script=Latin}[\p{L}\p{M}]*[\p{Script=Cyrillic}\p{Script=Greek}]|[\p{Script=Cyrillic}\p{Script=Greek}][\p{L}\p{M}]*\p{Script=Latin}/u;

/** What is the same but for letter case, blanks, accents, Unicode form, and letters that look alike. */
const bare = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(LOOKALIKE, (letter) => LOOKALIKES[letter] ?? letter)
    .replace(/\s+/g, ' ')
    .trim();

/** Blanks of a text that are too many: of two spellings the one with fewer is the usual one. */
const blanksTooMany = (text: string): number => text.length - text.replace(/\s+/g, ' ').trim().length;

const textsOf = (value: FieldValue): readonly string[] =>
  value === null ? [] : typeof value === 'object' ? value : [fieldText(value)];

/** Fields whose values are a few that many share: one that hardly anybody has is likely a slip. */
const SHARED: ReadonlySet<FieldName> = new Set(['genre']);
/** Of what a field of few values is mistaken for. */
const OTHERS: readonly FieldName[] = ['artist', 'albumArtist', 'album', 'title'];
/** Items from which on, and values up to which, one is rare. */
const MANY_ITEMS = 40;
const RARE = 1;
/** The year of the first recordings of sound, less what an edition of a book may be older. */
const FIRST_YEAR = 1000;

interface Counted {
  readonly text: string;
  readonly witness: string;
  count: number;
  alsoIn: FieldName | null;
  isOut: boolean;
}

const AT_ONCE = 1500;

/** Counts the values of a field, and says which are odd. Each step is short. @param year of today */
export function* fieldValueSteps(
  items: readonly Item[],
  field: FieldName,
  year: number,
): Generator<void, FieldValues> {
  const counted = new Map<string, Counted>();
  let without = 0;
  for (let at = 0; at < items.length; at++) {
    const item = items[at] as Item;
    const fields = fieldsOf(item);
    const texts = textsOf(fields[field]);
    if (texts.length === 0) without++;
    for (const text of texts) {
      let own = counted.get(text);
      if (!own) {
        own = { text, witness: item.path, count: 0, alsoIn: null, isOut: false };
        counted.set(text, own);
      }
      own.count++;
      own.alsoIn ??= SHARED.has(field) ? mistakenFor(text, fields) : null;
      own.isOut ||= isOutOfRange(field, fields, year);
    }
    if (at % AT_ONCE === AT_ONCE - 1) yield;
  }
  return { rows: rowsOf([...counted.values()], field), without };
}

function rowsOf(all: readonly Counted[], field: FieldName): readonly FieldValueRow[] {
  const sorted = [...all].sort(
    (a, b) =>
      b.count - a.count ||
      Number(MIXED_WORD.test(a.text)) - Number(MIXED_WORD.test(b.text)) ||
      blanksTooMany(a.text) - blanksTooMany(b.text) ||
      (a.text < b.text ? -1 : 1),
  );
  // The most frequent spelling comes first, so it is the usual one of those that are alike.
  const usual = new Map<string, string>();
  for (const { text } of sorted) {
    const key = bare(text);
    if (!usual.has(key)) usual.set(key, text);
  }
  const total = all.reduce((sum, { count }) => sum + count, 0);
  const { type } = requireField(field);
  const isNamed = !isNumeric(type) && type !== 'date' && type !== 'yesno';
  return sorted.map(({ text, witness, count, alsoIn, isOut }): FieldValueRow => {
    const first = usual.get(bare(text)) ?? text;
    const like = isNamed && first !== text ? first : null;
    const isRare = SHARED.has(field) && total >= MANY_ITEMS && count <= RARE;
    const odd: Oddity[] = [];
    if (like !== null) odd.push('alike');
    if (isNamed && MIXED_WORD.test(text)) odd.push('letters');
    if (alsoIn) odd.push('otherField');
    if (isOut) odd.push('outOfRange');
    if (isRare) odd.push('rare');
    return { text, count, odd, like, alsoIn, witness };
  });
}

const mistakenFor = (text: string, fields: Fields): FieldName | null =>
  OTHERS.find((other) => textsOf(fields[other]).some((one) => bare(one) === bare(text))) ?? null;

function isOutOfRange(field: FieldName, fields: Fields, year: number): boolean {
  const value = fields[field];
  if (field === 'date') {
    const own = Number(String(value).slice(0, 4));
    return own < FIRST_YEAR || own > year + 1;
  }
  if (typeof value !== 'number') return false;
  const of = field === 'track' ? fields.tracks : field === 'disc' ? fields.discs : null;
  return value > requireField(field).limit || (of !== null && value > of);
}

/** Whether an item has one of some values of a field. */
export const hasValue = (item: Item, field: FieldName, texts: ReadonlySet<string>): boolean =>
  textsOf(fieldsOf(item)[field]).some((text) => texts.has(text));

/** An item whose values of a field that are among some become another one; empty takes them away. */
export function withValue(item: Item, field: FieldName, from: ReadonlySet<string>, to: FieldValue): Item {
  const value = fieldsOf(item)[field];
  const texts = textsOf(value);
  if (!hasValue(item, field, from)) return item;
  if (typeof value !== 'object' || value === null) return editItem(item, { [field]: to });
  const into = textsOf(to);
  // Where it stood first; one that is there already is not there twice.
  const next = texts.flatMap((text) => (from.has(text) ? into : [text]));
  return editItem(item, { [field]: toTexts([...new Set(next)]) });
}
