import { homeOf, type Item } from '../items';
import { folderOf } from '../paths';
import { columnValue, type ColumnKey } from './columns';
import type { Asked } from '../query';
import { collated, compareCollated, compareTexts, type Collated } from './collation';
import type { Aspect } from './fullness';

/** What items are put in order by, within their groups. */
export interface Sorting {
  /** Null for their own order: by disc and track where they are known, else by path. */
  readonly by: ColumnKey | null;
  readonly down: boolean;
  /** Whether “The” and the like count for nothing at the front of a text. */
  readonly withoutArticles: boolean;
}

/** A sorting regardless of its direction. */
export type ColumnSorting = Omit<Sorting, 'down'>;

export const OWN_ORDER: Sorting = { by: null, down: false, withoutArticles: false };

/** What groups are put in order by: their name, how many items are in them, or how full they are. */
export type GroupSortKey = 'name' | 'items' | 'full' | Aspect;
export interface GroupSorting {
  readonly by: GroupSortKey;
  readonly down: boolean;
}

/** By name, upwards: groups are told apart by that, so it decides between equals of anything else. */
export const BY_NAME: GroupSorting = { by: 'name', down: false };

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

export const ownOrderOf = ({ fields, path }: Pick<Asked, 'fields' | 'path'>): OwnOrder => ({
  home: fields.album === null ? folderOf(path) : `${homeOf(path)}\n${fields.album}`,
  disc: fields.disc ?? 1,
  track: fields.track ?? 9999,
});

/** A sort key. Texts come with their collation key. Null if the value is empty. */
export type OrderKey = number | Collated | null;

/** An item that is sorted, with its remembered keys. */
interface Ordered {
  readonly key: string;
  readonly item: Item;
  readonly ownOrder: OwnOrder;
  keyIn(ordering: Ordering): OrderKey;
}

/** Compares items in ascending order. Empty values come last; equal items are in the order of disc and track. */
export class Ordering {
  constructor(private readonly sorting: ColumnSorting) {}

  keyOf(item: Item): OrderKey {
    const value = this.valueOf(item);
    return typeof value === 'string' ? collated(value) : value;
  }

  readonly compare = (a: Ordered, b: Ordered): number =>
    compareOrderKeys(a.keyIn(this), b.keyIn(this)) || inOwnOrder(a, b);

  /** The plain value that an item is sorted by. Equal items have the same value. */
  valueOf(item: Item): OrderValue {
    const { by, withoutArticles } = this.sorting;
    if (by === null) return null;
    const value = columnValue(item, by);
    return withoutArticles && typeof value === 'string' ? withoutArticle(value) : value;
  }

  /** Descending. Empty values come last here, too, and equal items keep the order of disc and track. */
  readonly compareDown = (a: Ordered, b: Ordered): number => {
    const [one, other] = [a.keyIn(this), b.keyIn(this)];
    const order = compareOrderKeys(one, other);
    return (one === null || other === null ? order : -order) || inOwnOrder(a, b);
  };
}

function compareOrderKeys(one: OrderKey, other: OrderKey): number {
  if (one === null || other === null) return Number(one === null) - Number(other === null);
  if (typeof one === 'number') return one - Number(other);
  const { text } = other as Collated;
  // Different texts that the collator treats as equal, such as 1 and 01, still form separate runs.
  return compareCollated(one, other as Collated) || compareCodes(one.text, text);
}

/** @param turn -1 goes downwards; what says nothing comes last all the same */
export function compareKeys(one: OrderValue, other: OrderValue, turn: 1 | -1): number {
  if (one === null || other === null) return Number(one === null) - Number(other === null);
  const order = typeof one === 'number' ? one - Number(other) : compareTexts(one, String(other));
  return order * turn;
}

/** By disc and track where they are known, else by path. */
function inOwnOrder(a: Ordered, b: Ordered): number {
  return (
    compareOwn(a.ownOrder, b.ownOrder) || compareCodes(a.item.path, b.item.path) || compareCodes(a.key, b.key)
  );
}

export const compareOwn = (a: OwnOrder, b: OwnOrder): number =>
  compareCodes(a.home, b.home) || a.disc - b.disc || a.track - b.track;

const compareCodes = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
