import {
  fieldText,
  fieldsOf,
  homeOf,
  kindOf,
  releaseKey,
  titleOf,
  yearDate,
  yearOf,
  type Arrival,
  type Item,
  type ItemId,
} from '../items';
import { folderOf } from '../paths';
import { KINDS, KIND_FACTS, type Kind } from '../kinds';

/** What items can be grouped by. `none` ends the levels. */
export const LEVELS = [
  'arrival',
  'release',
  'kind',
  'folder',
  'artist',
  'genre',
  'composer',
  'year',
  'none',
] as const;
export type Level = (typeof LEVELS)[number];

/** Which items are looked at, whatever the stage. */
export interface Scope {
  /** Null shows every kind; `open` those without one. */
  readonly kind: Kind | 'open' | null;
  /** Words that all must stand in the item's fields or path. */
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
  readonly items: readonly Item[];
  readonly closed: boolean;
}

export interface ItemRow {
  readonly type: 'item';
  readonly key: ItemId;
  readonly item: Item;
}

export type Row = GroupRow | ItemRow;

const haystacks = new WeakMap<Item, string>();

/** Everything of an item that a filter looks into, in lower case. */
function haystack(item: Item): string {
  let text = haystacks.get(item);
  if (text === undefined) {
    const fields = fieldsOf(item);
    text = [
      fields.title,
      fields.albumArtist,
      fields.album,
      ...[fields.artist, fields.genre, fields.composer].map((value) => value?.join('\n')),
      fields.date,
      item.path,
    ]
      .join('\n')
      .toLowerCase();
    haystacks.set(item, text);
  }
  return text;
}

/** The items in scope, in their own order. */
export function inScope(items: readonly Item[], scope: Scope): readonly Item[] {
  const words = scope.text.toLowerCase().split(/\s+/).filter(Boolean);
  if (scope.kind === null && words.length === 0) return items;
  return items.filter((item) => {
    if (scope.kind !== null && (kindOf(item) ?? 'open') !== scope.kind) return false;
    return words.length === 0 || words.every((word) => haystack(item).includes(word));
  });
}

/** Items of each kind, and of none. */
export function countKinds(items: readonly Item[]): ReadonlyMap<Kind | 'open', number> {
  const counts = new Map<Kind | 'open', number>();
  for (const item of items) {
    const kind = kindOf(item) ?? 'open';
    counts.set(kind, (counts.get(kind) ?? 0) + 1);
  }
  return counts;
}

/** Items grouped by levels, as rows of a ledger; what is in closed groups is left out. */
export function toRows(
  items: readonly Item[],
  levels: readonly Level[],
  arrivals: readonly Arrival[],
  closed: ReadonlySet<string>,
): readonly Row[] {
  const rows: Row[] = [];
  const byArrival = new Map<string, Arrival>(arrivals.map((arrival) => [arrival.id, arrival]));
  addRows(
    rows,
    items,
    levels.filter((level) => level !== 'none'),
    0,
    '',
    byArrival,
    closed,
  );
  return rows;
}

function addRows(
  rows: Row[],
  items: readonly Item[],
  levels: readonly Level[],
  depth: number,
  above: string,
  arrivals: ReadonlyMap<string, Arrival>,
  closed: ReadonlySet<string>,
): void {
  const level = levels[depth];
  if (level === undefined) {
    const ordered = items.map((item) => ({ item, order: orderOf(item) })).sort(inOrder);
    for (const { item } of ordered) rows.push({ type: 'item', key: item.id, item });
    return;
  }
  const groups = new Map<string, { sort: string; label: string; note: string; items: Item[] }>();
  for (const item of items) {
    const group = groupOf(item, level, arrivals);
    const known = groups.get(group.sort);
    if (known) known.items.push(item);
    else groups.set(group.sort, { ...group, items: [item] });
  }
  for (const { sort, ...group } of [...groups.values()].sort((a, b) => (a.sort < b.sort ? -1 : 1))) {
    const key = `${above}${level}:${sort}`;
    const row: GroupRow = { type: 'group', key, depth, level, ...group, closed: closed.has(key) };
    rows.push(row);
    if (!row.closed) addRows(rows, group.items, levels, depth + 1, `${key}\n`, arrivals, closed);
  }
}

/** What an item is ordered by within its group, worked out once. */
interface Order {
  /** The album where there is one, so that the folders of its discs stand together. */
  readonly home: string;
  readonly disc: number;
  readonly track: number;
}

interface Placed {
  readonly item: Item;
  readonly order: Order;
}

const orders = new WeakMap<Item, Order>();

function orderOf(item: Item): Order {
  let order = orders.get(item);
  if (!order) {
    const { album, disc, track } = fieldsOf(item);
    order = {
      home: album === null ? folderOf(item.path) : `${homeOf(item.path)}\n${album}`,
      disc: disc ?? 1,
      track: track ?? 9999,
    };
    orders.set(item, order);
  }
  return order;
}

/** Within a group: by disc and track where they are known, else by path. */
function inOrder(a: Placed, b: Placed): number {
  return (
    compare(a.order.home, b.order.home) ||
    a.order.disc - b.order.disc ||
    a.order.track - b.order.track ||
    compare(a.item.path, b.item.path)
  );
}

const compare = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
const LAST = '\uffff';

function groupOf(
  item: Item,
  level: Level,
  arrivals: ReadonlyMap<string, Arrival>,
): { sort: string; label: string; note: string } {
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
      const maker = fields.albumArtist ?? (fields.compilation ? 'various' : fieldText(fields.artist));
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
    case 'none':
      return { sort: '', label: titleOf(item), note: '' };
  }
}
