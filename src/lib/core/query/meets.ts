import { searchText } from '../items';
import type { Amount } from './amounts';
import type { Asked } from './asked';
import { parseQuery, type Compare, type Query } from './parse';
import { folded } from './same-name';
import { nowhere, type QueryWorld } from './world';

/** How a query reads items, whatever their form. */
export interface Asking<T> {
  readonly asked: (item: T) => Asked;
  /** The searched text in lower case; cached where possible. */
  readonly text: (item: T) => string;
}

export const PLAIN: Asking<Asked> = {
  asked: (asked) => asked,
  text: ({ fields, path }) => searchText(fields, path),
};

/** The same, remembering the answers for the latest item, because several queries ask about it in turn. */
export function remembering<T>({ asked, text }: Asking<T>): Asking<T> {
  let of: T | null = null;
  let known: { asked: Asked | null; text: string | null } = { asked: null, text: null };
  const about = (item: T) => {
    if (item !== of) known = { asked: null, text: null };
    of = item;
    return known;
  };
  return {
    asked: (item) => (about(item).asked ??= asked(item)),
    text: (item) => (about(item).text ??= text(item)),
  };
}

/** The readable part of a query text. */
export function queryOf(text: string, world = nowhere()): Query {
  const parsed = parseQuery(text, world);
  return parsed.type === 'query' ? parsed.query : parsed.before;
}

/** A query as a test of items. Whatever it names is looked up once, not for every item. */
export function testOf<T>(
  query: Query,
  asking: Asking<T>,
  world: QueryWorld = nowhere(),
): (item: T) => boolean {
  switch (query.type) {
    case 'all': {
      const tests = query.parts.map((part) => testOf(part, asking, world));
      return (item) => tests.every((test) => test(item));
    }
    case 'either': {
      const tests = query.parts.map((part) => testOf(part, asking, world));
      return (item) => tests.some((test) => test(item));
    }
    case 'not': {
      const test = testOf(query.part, asking, world);
      return (item) => !test(item);
    }
    case 'words': {
      const { words } = query;
      return (item) => {
        const text = asking.text(item);
        return words.every((word) => text.includes(word));
      };
    }
    case 'name': {
      const { of } = query.name;
      const holds = holdsFor(query.compare);
      return (item) => of(asking.asked(item), world).some(holds);
    }
  }
}

/** The most values whose answers are cached, for fields whose values many items share. */
const MOST_REMEMBERED = 5000;

/** A test whose answers are kept: many items have the same value, and folding it costs more than all else. */
function remembered(test: (value: string | number) => boolean): (value: string | number) => boolean {
  const known = new Map<string | number, boolean>();
  return (value) => {
    let answer = known.get(value);
    if (answer === undefined) {
      answer = test(value);
      if (known.size < MOST_REMEMBERED) known.set(value, answer);
    }
    return answer;
  };
}

function holdsFor(compare: Compare): (value: string | number) => boolean {
  switch (compare.type) {
    case 'filled':
      return () => true;
    case 'is':
    case 'has':
    case 'begins':
    case 'ends': {
      const wanted = folded(compare.text);
      const { type } = compare;
      return remembered((value) => {
        const text = folded(String(value));
        if (type === 'is') return text === wanted;
        if (type === 'has') return text.includes(wanted);
        return type === 'begins' ? text.startsWith(wanted) : text.endsWith(wanted);
      });
    }
    case 'equals': {
      const { amount } = compare;
      // A date is within a month only if its month is known.
      if (typeof amount === 'string') return (value) => String(value).startsWith(amount);
      return (value) => Math.round(Number(value)) === amount || value === amount;
    }
    case 'under':
      return (value) => order(value, compare.amount) < 0;
    case 'over':
      return (value) => order(value, compare.amount) > 0;
    case 'since':
      return (value) => order(value, compare.amount) >= 0;
    case 'until':
      return (value) => order(value, compare.amount) <= 0;
    case 'between':
      return (value) => order(value, compare.from) >= 0 && order(value, compare.to) <= 0;
  }
}

/** Dates as far as both are known. */
function order(value: string | number, amount: Amount): number {
  if (typeof amount === 'number') return Number(value) - amount;
  const known = Math.min(String(value).length, amount.length);
  const [one, other] = [String(value).slice(0, known), amount.slice(0, known)];
  return one < other ? -1 : one > other ? 1 : 0;
}
