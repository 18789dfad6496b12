import { QUERY_NAMES, findName, type QueryName } from './names';

/** A completion of the text at the caret. */
export interface Completion {
  /** What takes the place of the text from `from` on. */
  readonly text: string;
  readonly from: number;
  /** `value` is a value that occurs in the library. */
  readonly type: 'name' | 'compare' | 'value' | 'link';
  readonly means: string;
}

/** The context of the caret. */
export type Spot =
  /** A word that may begin a name, and whether a complete term precedes it. */
  | { readonly type: 'start'; readonly typed: string; readonly from: number; readonly isFirst: boolean }
  | { readonly type: 'compare'; readonly name: QueryName; readonly typed: string; readonly from: number }
  | { readonly type: 'value'; readonly name: QueryName; readonly typed: string; readonly from: number };

const COMPARE_WORDS: Readonly<Record<'text' | 'counted', readonly (readonly [string, string])[]>> = {
  text: [
    ['is', 'all of it, whatever the letter case'],
    ['is not', 'anything else'],
    ['has', 'somewhere in it'],
    ['begins', 'with this'],
    ['ends', 'with this'],
  ],
  counted: [
    ['is', 'just this'],
    ['under', 'less, or before'],
    ['over', 'more, or after'],
    ['since', 'this, or after'],
    ['until', 'this, or before'],
    ['from', 'from … to …, both included'],
  ],
};

const NAMES = QUERY_NAMES.map(({ name }) => name)
  .sort((a, b) => b.length - a.length)
  .join('|');
/** A name with a comparison at the end of the text. */
const NAMED = new RegExp(
  `(?:^|[\\s(])(${NAMES})\\s+(?:(is not|is|has|begins|ends|under|over|since|until|from)\\s+([^()"]*)|([a-z]*))$`,
  'i',
);
/** The end of a value at a connecting word. */
const ENDED = /\s(and|or)(\s|$)/i;

/** The context of the caret in a query. @param before the text before the caret */
export function placeIn(before: string): Spot {
  const named = NAMED.exec(before);
  const name = named && findName((named[1] as string).toLowerCase());
  if (named && name && !/\b(no|any)\s+$/i.test(before.slice(0, named.index + 1))) {
    const [, , compare, value = '', word = ''] = named;
    if (compare !== undefined && !ENDED.test(` ${value}`))
      return { type: 'value', name, typed: value, from: before.length - value.length };
    if (compare === undefined)
      return { type: 'compare', name, typed: word, from: before.length - word.length };
  }
  const typed = /[^\s()]*$/.exec(before)?.[0] ?? '';
  const from = before.length - typed.length;
  const last = /(\S+)\s*$/.exec(before.slice(0, from))?.[1]?.toLowerCase() ?? '';
  return { type: 'start', typed, from, isFirst: ['', 'and', 'or', 'not', 'no', 'any', '('].includes(last) };
}

/**
 * Completions at the caret, the most likely first.
 * @param valuesOf values of a name in the library that begin with a text or contain it, with the number of items of
 * each
 */
export function completionsFor(
  before: string,
  valuesOf: (name: QueryName, typed: string) => readonly (readonly [value: string, count: number])[],
  { most = 8, lists = [], players = [] }: CompletionWishes = {},
): readonly Completion[] {
  const named = namesOfWorld(before, lists ?? [], players).slice(0, most);
  if (named.length > 0) return named;
  const place = placeIn(before);
  const typed = place.typed.toLowerCase();
  const { from } = place;
  switch (place.type) {
    case 'compare': {
      const words = COMPARE_WORDS[place.name.type === 'text' ? 'text' : 'counted'];
      if (place.name.type === 'presence') return [];
      return words
        .filter(([word]) => word.startsWith(typed))
        .map(([word, means]) => ({ type: 'compare', text: `${word} `, from, means }));
    }
    case 'value':
      return valuesOf(place.name, place.typed.trim())
        .slice(0, most)
        .map(([value, count]) => ({
          type: 'value',
          text: `${quoted(value)} `,
          from,
          means: count.toLocaleString('en'),
        }));
    case 'start': {
      if (typed === '') return [];
      const links = ['and', 'or', 'not', 'no', 'any'].filter(
        (word) => word.startsWith(typed) && word !== typed,
      );
      const names = QUERY_NAMES.filter(({ name }) => name.split(' ').some((word) => word.startsWith(typed)));
      return [
        ...names.map(({ name, means }): Completion => ({ type: 'name', text: `${name} `, from, means })),
        ...(place.isFirst ? links.slice(2) : links).map((word): Completion => ({
          type: 'link',
          text: `${word} `,
          from,
          means: LINKS[word] ?? '',
        })),
      ].slice(0, most);
    }
  }
}

/** How many are offered, and the names that lists and players go by. */
export interface CompletionWishes {
  readonly most?: number;
  readonly lists?: readonly string[] | null;
  readonly players?: readonly string[];
}

/** Names after `in list` and `on`. */
function namesOfWorld(
  before: string,
  lists: readonly string[],
  players: readonly string[],
): readonly Completion[] {
  const found = /(?:^|[\s(])(in list|list is|never on|plays on|on)\s+("?)([^"()]*)$/i.exec(before);
  if (!found) return [];
  const [, how = '', quote = '', typed = ''] = found;
  const isOfList = /list/i.test(how);
  const wanted = typed.trim().toLowerCase();
  const from = before.length - typed.length - quote.length;
  return (isOfList ? lists : players)
    .filter((name) => name.toLowerCase().includes(wanted) && name.toLowerCase() !== wanted)
    .map((name) => ({
      type: 'value',
      text: `${/\s/.test(name) && !name.includes('"') ? `"${name}"` : name} `,
      from,
      means: isOfList ? 'list' : 'player',
    }));
}

const LINKS: Readonly<Record<string, string>> = {
  and: 'both',
  or: 'one of them, or both',
  not: 'what follows does not hold',
  no: 'it has none',
  any: 'it has some',
};

/**
 * A text as it is written in a query: quoted if it would otherwise end too soon. A text that contains quotes is left as
 * it is.
 */
export const quoted = (value: string): string =>
  / (and|or) |[()]/i.test(` ${value} `) && !value.includes('"') ? `"${value}"` : value;
