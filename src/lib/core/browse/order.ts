import { fieldsOf, homeOf, type Item } from '../items';
import { folderOf } from '../paths';
import { columnValue, type ColumnKey } from './columns';
import type { Asked } from '../query';
import type { Aspect } from './fullness';

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

/** What stands for an item in an order; null where it says nothing. */
export type OrderValue = string | number | null;

/** What items of a group are put in order by where nothing else decides. */
export interface OwnOrder {
  /** The album where there is one, so that the folders of its discs stand together. */
  readonly home: string;
  readonly disc: number;
  readonly track: number;
}

/** What an item stands by within its group. */
export interface ItemOrder extends OwnOrder {
  /** What it is put in order by; null where that says nothing, or where nothing is asked but its own order. */
  readonly key: OrderValue;
}

export const ownOrderOf = ({ fields, path }: Pick<Asked, 'fields' | 'path'>): OwnOrder => ({
  home: fields.album === null ? folderOf(path) : `${homeOf(path)}\n${fields.album}`,
  disc: fields.disc ?? 1,
  track: fields.track ?? 9999,
});

interface Ordered {
  readonly item: Item;
  readonly order: ItemOrder;
}

/** How items are put in order. What says nothing comes last in both directions; their own order decides between equals. */
export class ItemOrdering {
  private readonly turn: 1 | -1;

  constructor(private readonly sorting: Sorting) {
    this.turn = sorting.down ? -1 : 1;
  }

  of(item: Item): ItemOrder {
    return { key: this.keyOf(item), ...ownOrderOf({ fields: fieldsOf(item), path: item.path }) };
  }

  private keyOf(item: Item): OrderValue {
    const { by, withoutArticles } = this.sorting;
    if (by === null) return null;
    const value = columnValue(item, by);
    return withoutArticles && typeof value === 'string' ? withoutArticle(value) : value;
  }

  readonly compare = (a: Ordered, b: Ordered): number =>
    compareKeys(a.order.key, b.order.key, this.turn) || inOrder(a, b);
}

/** @param turn -1 goes downwards; what says nothing comes last all the same */
export function compareKeys(one: OrderValue, other: OrderValue, turn: 1 | -1): number {
  if (one === null || other === null) return Number(one === null) - Number(other === null);
  const order = typeof one === 'number' ? one - Number(other) : collator.compare(one, String(other));
  return order * turn;
}

/** By disc and track where they are known, else by path. */
function inOrder({ item: a, order: first }: Ordered, { item: b, order: second }: Ordered): number {
  return compareOwn(first, second) || compareTexts(a.path, b.path) || compareTexts(a.id, b.id);
}

export const compareOwn = (a: OwnOrder, b: OwnOrder): number =>
  compareTexts(a.home, b.home) || a.disc - b.disc || a.track - b.track;

const compareTexts = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
