import { nowhere, picturesIn, queryOf, testOf, type Asked, type Asking, type QueryWorld } from '../query';
import { chaptersOf, fieldsOf, isEdited, kindOf, searchText, timedOf, type Item } from '../items';
import type { Kind } from '../kinds';
import type { FullnessTally } from './fullness';
import type { Counts } from './tally';

/** What items can be grouped by. `none` ends the levels. */
export const LEVELS = [
  'arrival',
  'release',
  'kind',
  'folder',
  'artist',
  'albumArtist',
  'genre',
  'composer',
  'year',
  'decade',
  'format',
  'none',
] as const;
/** Levels of which an item may stand in several groups. */
export const SEVERAL_LEVELS: ReadonlySet<(typeof LEVELS)[number]> = new Set([
  'artist',
  'genre',
  'composer',
] as const);
/** Levels that items are grouped by at the most: by everything once. */
export const MOST_LEVELS = LEVELS.length - 1;
export type Level = (typeof LEVELS)[number];

/** Which items are looked at, whatever the stage. */
export interface Scope {
  /** Null shows every kind; `open` those without one. */
  readonly kind: Kind | 'open' | null;
  /** A query that the item is to meet; empty for none. */
  readonly text: string;
}

export interface GroupRow {
  readonly type: 'group';
  readonly key: string;
  readonly depth: number;
  readonly level: Level;
  readonly label: string;
  /** A second word for it, such as the maker of a release. */
  readonly note: string;
  /** What tells it from others that go by the same words; empty where there are none. */
  readonly apart: string;
  /** Looks them up where there are many groups in it: `counts` tells of them without. */
  readonly items: readonly Item[];
  readonly counts: Counts;
  /** How much of what is asked its items have, where strips are wanted. */
  readonly fullness: FullnessTally | null;
  readonly closed: boolean;
}

export interface ItemRow {
  readonly type: 'item';
  /** The item's id; another one in each further group where it stands in several. */
  readonly key: string;
  readonly item: Item;
}

export type Row = GroupRow | ItemRow;

const haystacks = new WeakMap<Item, string>();

/** The text of an item that queries search, in lower case. */
export function haystack(item: Item): string {
  let text = haystacks.get(item);
  if (text === undefined) haystacks.set(item, (text = searchText(fieldsOf(item), item.path)));
  return text;
}

/** An item as queries see it. Values are only looked up when needed, because most queries ask for one of them. */
class AskedItem implements Asked {
  constructor(private readonly item: Item) {}

  get id() {
    return this.item.id;
  }
  get arrival() {
    return this.item.arrival;
  }
  get modified() {
    return this.item.modified;
  }
  get fields() {
    return fieldsOf(this.item);
  }
  get path() {
    return this.item.path;
  }
  get kind() {
    return kindOf(this.item);
  }
  get format() {
    return this.item.format;
  }
  get size() {
    return this.item.size;
  }
  get soundBytes() {
    return this.item.facts.soundBytes;
  }
  get durationSeconds() {
    return this.item.facts.durationSeconds;
  }
  get streams() {
    return this.item.facts.streams;
  }
  get pictures() {
    return picturesIn(this.item);
  }
  get chapters() {
    return chaptersOf(this.item).length;
  }
  get timedLines() {
    return timedOf(this.item).length;
  }
  get isEdited() {
    return isEdited(this.item);
  }
}

export const asked = (item: Item): Asked => new AskedItem(item);
/** How queries ask items. */
export const ASKING: Asking<Item> = { asked, text: haystack };

/** Tells whether an item is in scope; its query is read once. */
export function scopeTest({ kind, text }: Scope, world: QueryWorld): (item: Item) => boolean {
  const meets = testOf(queryOf(text, world), ASKING, world);
  return (item) => (kind === null || (kindOf(item) ?? 'open') === kind) && meets(item);
}

/** The items in scope, in their own order. */
export function inScope(items: readonly Item[], scope: Scope, world = nowhere()): readonly Item[] {
  return scope.kind === null && scope.text.trim() === '' ? items : items.filter(scopeTest(scope, world));
}

/** Items that are looked at in one step. */
const AT_ONCE = 1500;

/** How many items are in scope. Each step is short. */
export function* countSteps(
  items: readonly Item[],
  scope: Scope,
  world: QueryWorld,
): Generator<void, number> {
  const meets = scopeTest(scope, world);
  let count = 0;
  for (let at = 0; at < items.length; at += AT_ONCE) {
    for (const item of items.slice(at, at + AT_ONCE)) if (meets(item)) count++;
    yield;
  }
  return count;
}
