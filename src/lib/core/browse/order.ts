import type { Item } from '../items';
import { columnValue, type ColumnKey } from './columns';
import type { Aspect } from './fullness';
import { inOrder } from './rows';

/** What items are put in order by, within their groups. */
export interface Sorting {
  /** Null for their own order: by disc and track where they are known, else by path. */
  readonly by: ColumnKey | null;
  readonly down: boolean;
  /** Whether “The” and the like count for nothing at the front of a text. */
  readonly withoutArticles: boolean;
}

export const OWN_ORDER: Sorting = { by: null, down: false, withoutArticles: false };

/** What groups are put in order by: their name, how many items are in them, or how full they are. */
export type GroupSortKey = 'name' | 'items' | 'full' | Aspect;
export interface GroupSorting {
  readonly by: GroupSortKey;
  readonly down: boolean;
}

/** By name, upwards: groups are told apart by that, so it decides between equals of anything else. */
export const BY_NAME: GroupSorting = { by: 'name', down: false };

/** Numbers in texts count as numbers; letter case and accents decide last. */
const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'variant' });
/** Articles of the languages that most names of music are in, with what follows them. */
const ARTICLE =
  /^(?:the|an?|der|die|das|ein|eine|les?|la|un|une|el|los|las|il|lo|gli|de|het|den|det)\s+(?=\S)|^l['\u2019](?=\S)/i;

/** A text without the article that it begins with. One that is nothing else stays. */
export const withoutArticle = (text: string): string => text.replace(ARTICLE, '');

type Key = string | number | null;

/** How two items compare. What says nothing comes last in both directions, and their own order decides between equals. */
export function comparing({ by, down, withoutArticles }: Sorting): (a: Item, b: Item) => number {
  if (by === null) return inOrder;
  const keys = new WeakMap<Item, { readonly key: Key }>();
  const keyOf = (item: Item): Key => {
    let own = keys.get(item);
    if (!own) {
      const value = columnValue(item, by);
      const key = withoutArticles && typeof value === 'string' ? withoutArticle(value) : value;
      keys.set(item, (own = { key }));
    }
    return own.key;
  };
  const turn = down ? -1 : 1;
  return (a, b) => {
    const [one, other] = [keyOf(a), keyOf(b)];
    if (one === null || other === null) return Number(one === null) - Number(other === null) || inOrder(a, b);
    const order = typeof one === 'number' ? one - Number(other) : collator.compare(one, String(other));
    return order * turn || inOrder(a, b);
  };
}
