import { askedOf, nowhere, queryOf, testOf, type Asked, type Asking, type QueryWorld } from '../query';
import {
  fieldText,
  FORMAT_NAMES,
  fieldsOf,
  homeOf,
  kindOf,
  makerOf,
  releaseKey,
  searchText,
  titleOf,
  yearDate,
  yearOf,
  type Arrival,
  type Item,
  type ItemId,
} from '../items';
import { folderOf } from '../paths';
import { KINDS, KIND_FACTS, type Kind } from '../kinds';
import type { FullnessTally } from './fullness';
import type { ItemOrder } from './order';
import type { Counts } from './tally';

/** What items can be laid out by. `none` ends the levels. */
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
/** Levels that items are laid out by at the most: by everything once. */
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
  readonly key: ItemId;
  readonly item: Item;
  /** Worked out when the row is made: comparing asks for it again and again. */
  readonly order: ItemOrder;
}

export type Row = GroupRow | ItemRow;

const haystacks = new WeakMap<Item, string>();

function haystack(item: Item): string {
  let text = haystacks.get(item);
  if (text === undefined) haystacks.set(item, (text = searchText(fieldsOf(item), item.path)));
  return text;
}

/** An item as queries ask it. */
export const asked = (item: Item): Asked => {
  const { id, arrival, modified, path, format, size, facts, file, edits } = item;
  const { soundBytes, durationSeconds, streams } = facts;
  const kind = kindOf(item);
  const fields = fieldsOf(item);
  const own = {
    id,
    arrival,
    modified,
    fields,
    path,
    kind,
    format,
    size,
    soundBytes,
    durationSeconds,
    streams,
  };
  return askedOf(Object.assign(own, { file, edits }));
};
/** What queries ask of items. */
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

const LAST = '\uffff';

/** What tells a release from others of its name: its edition, and where it lies. */
export function releaseWords(item: Item): string {
  return [fieldsOf(item).edition, homeOf(item.path) || 'no folder'].filter(Boolean).join(', ');
}

/** The group that an item belongs to on a level: what it is ordered by, and its words. */
export function groupOf(
  item: Item,
  level: Level,
  arrivals: ReadonlyMap<string, Arrival>,
): { readonly sort: string; readonly label: string; readonly note: string } {
  const fields = fieldsOf(item);
  const texts = (value: readonly string[] | null, empty: string) => ({
    sort: (value?.join('\n') ?? LAST).toLowerCase(),
    label: fieldText(value) || empty,
    note: '',
  });
  switch (level) {
    case 'arrival': {
      const arrival = arrivals.get(item.arrival);
      // Newest first.
      return {
        sort: String(1e15 - (arrival?.at ?? 0)) + item.arrival,
        label: arrival?.label ?? '',
        note: '',
      };
    }
    case 'release': {
      const key = releaseKey(item.path, fields);
      const album = fields.album?.trim() ?? '';
      const maker = makerOf(fields, 'various') ?? '';
      return {
        sort: key === null ? LAST : `${album.toLowerCase()}\n${key}`,
        label: key === null ? 'No album' : album,
        note: key === null ? '' : maker,
      };
    }
    case 'kind': {
      const kind = kindOf(item);
      return {
        sort: String(kind ? KINDS.indexOf(kind) : 99),
        label: kind ? KIND_FACTS[kind].many : 'open',
        note: '',
      };
    }
    case 'folder':
      return { sort: folderOf(item.path), label: folderOf(item.path) || 'no folder', note: '' };
    case 'artist':
      return texts(fields.artist, 'Unknown artist');
    case 'albumArtist':
      return texts(fields.albumArtist === null ? null : [fields.albumArtist], 'Unknown album artist');
    case 'genre':
      return texts(fields.genre, 'Unknown genre');
    case 'composer':
      return texts(fields.composer, 'Unknown composer');
    case 'year': {
      const year = yearOf(fields);
      return {
        sort: year === null ? LAST : yearDate(year),
        label: String(year ?? 'Unknown year'),
        note: '',
      };
    }
    case 'format':
      return { sort: FORMAT_NAMES[item.format], label: FORMAT_NAMES[item.format], note: '' };
    case 'decade': {
      const year = yearOf(fields);
      const first = year === null ? null : year - (year % 10);
      return {
        sort: first === null ? LAST : yearDate(first),
        label: first === null ? 'Unknown decade' : `${first}s`,
        note: '',
      };
    }
    case 'none':
      return { sort: '', label: titleOf(item), note: '' };
  }
}
