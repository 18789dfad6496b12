import type { Amount } from './amounts';
import { quoted } from './complete';
import type { QueryName } from './names';
import type { Compare, Query } from './parse';

/** How one condition compares: `filled` asks whether there is any value. */
export type PartCompare =
  | ('is' | 'has' | 'begins' | 'ends' | 'under' | 'over' | 'since' | 'until' | 'from' | 'filled')
  /** Within so many days, weeks, months or years up to today. */
  | 'in the last';

/** One condition of a query that is a list of such. */
export interface QueryPart {
  readonly isNot: boolean;
  /** Null for a word that is looked for anywhere. */
  readonly name: QueryName | null;
  readonly compare: PartCompare;
  /** The compared text as written; empty for `filled`. */
  readonly text: string;
}

/** A query that is a list of conditions, all of which hold, or one of which does. */
export interface QueryParts {
  readonly link: 'and' | 'or';
  readonly parts: readonly QueryPart[];
}

/** A query as a list of conditions; null if it is more complex. */
export function partsOf(query: Query): QueryParts | null {
  const isOr = query.type === 'either';
  const own = isOr || query.type === 'all' ? query.parts : [query];
  const parts: QueryPart[] = [];
  for (const one of own) {
    const isNot = one.type === 'not';
    const inner = isNot ? one.part : one;
    if (inner.type === 'words') {
      // Several words after one name are a group of their own.
      if (inner.words.length !== 1 && (isOr || isNot)) return null;
      for (const text of inner.words) parts.push({ isNot, name: null, compare: 'has', text });
    } else if (inner.type === 'name')
      parts.push({ isNot, name: inner.name, ...comparing(inner.compare, inner.name) });
    else return null;
  }
  return { link: isOr ? 'or' : 'and', parts };
}

function comparing(compare: Compare, name: QueryName): Pick<QueryPart, 'compare' | 'text'> {
  switch (compare.type) {
    case 'filled':
      return { compare: 'filled', text: '' };
    case 'equals':
      return { compare: 'is', text: amountText(compare.amount, name) };
    case 'between':
      return {
        compare: 'from',
        text: `${amountText(compare.from, name)} to ${amountText(compare.to, name)}`,
      };
    case 'under':
    case 'over':
    case 'since':
    case 'until':
      if (compare.ago !== undefined) return { compare: 'in the last', text: compare.ago };
      return { compare: compare.type, text: amountText(compare.amount, name) };
    default:
      return { compare: compare.type, text: compare.text };
  }
}

const UNITS: Readonly<
  Partial<Record<QueryName['type'], readonly (readonly [factor: number, unit: string])[]>>
> = {
  bytes: [
    [1e9, 'GB'],
    [1e6, 'MB'],
    [1e3, 'kB'],
  ],
  seconds: [
    [3600, 'h'],
    [60, 'min'],
    [1, 's'],
  ],
};

/** An amount for typing, in the largest unit that gives a whole number. */
function amountText(amount: Amount, { type }: QueryName): string {
  if (typeof amount === 'string' || amount === 0) return String(amount);
  const [factor, unit] = UNITS[type]?.find(([size]) => amount % size === 0) ?? [1, ''];
  return `${amount / factor}${unit === '' ? '' : ` ${unit}`}`;
}

/** The query that a list of conditions is. */
export const textOfParts = ({ link, parts }: QueryParts): string => parts.map(textOf).join(` ${link} `);

function textOf({ isNot, name, compare, text }: QueryPart): string {
  if (name && compare === 'filled') return `${isNot ? 'no' : 'any'} ${name.name}`;
  const own = name ? `${name.name} ${compare} ${name.type === 'text' ? inQuotes(text) : text}` : `"${text}"`;
  return isNot ? `not ${own}` : own;
}

const inQuotes = (text: string): string =>
  text.trim() === '' || (/^not\b/i.test(text) && !text.includes('"')) ? `"${text}"` : quoted(text);
