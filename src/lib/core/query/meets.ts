import { searchText } from '../items';
import type { Amount } from './amounts';
import type { Asked } from './asked';
import { parseQuery, type Compare, type Query } from './parse';
import { folded } from './same-name';
import { nowhere, type QueryWorld } from './world';

/** What a query asks an item through, whatever it is a part of. */
export interface Asking<T> {
  readonly asked: (item: T) => Asked;
  /** All that is searched of it, in lower case; kept by whoever can. */
  readonly text: (item: T) => string;
}

export const PLAIN: Asking<Asked> = {
  asked: (asked) => asked,
  text: ({ fields, path }) => searchText(fields, path),
};

/** The same, with what was asked of one item kept until another one is asked: several queries ask it in turn. */
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

/** What a text asks for, as far as it can be read. */
export function queryOf(text: string, world = nowhere()): Query {
  const parsed = parseQuery(text, world);
  return parsed.type === 'query' ? parsed.query : parsed.before;
}

/** A query as a test of items: what it names is looked up once, not for every item. */
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

/** Values of which an answer is kept: those of a field that many share. */
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
      // A date is of a month where it is known to be of it.
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
