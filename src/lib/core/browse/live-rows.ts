import type { Arrival, Item, ItemId } from '../items';
import { nowhere, type QueryWorld } from '../query';
import { FullnessTally } from './fullness';
import { BY_NAME, ItemOrdering, OWN_ORDER, type GroupSorting, type Sorting } from './order';
import {
  groupOf,
  releaseWords,
  scopeTest,
  type GroupRow,
  type ItemRow,
  type Level,
  type Row,
  type Scope,
} from './rows';
import { sortSteps } from './sort-steps';
import { Tally, type Counts, type GapsOf, type ItemChange } from './tally';

/** What is looked at, and how it is grouped. */
export interface RowsQuery {
  readonly scope: Scope;
  readonly levels: readonly Level[];
  readonly arrivals: readonly Arrival[];
  /** What its query may ask beside items. */
  readonly world?: QueryWorld;
  /** Within groups; their own order where it is absent. */
  readonly sorting?: Sorting;
  /** Whether groups tell how full they are. */
  readonly strips?: boolean;
  /** What groups of the last level are put in order by; their name where it is absent. */
  readonly groupSorting?: GroupSorting;
}

/** Items looked at before others get their turn. */
const AT_ONCE = 1500;
/** Items put in order before: each is looked at several times. */
const SORTED_AT_ONCE = 300;

/** A group of one level, with groups of the next one or, on the last, its items in order. */
class Group implements GroupRow {
  readonly type = 'group';
  readonly groups = new Map<string, Group>();
  /** Those of its groups that go by the same words. */
  private readonly namesakes = new Map<string, Set<Group>>();
  closed = false;
  own: ItemRow[] = [];
  private ordered: Group[] | null = null;
  private all: readonly Item[] | null = null;
  private shown: Group | null = null;

  constructor(
    readonly key: string,
    readonly level: Level,
    readonly depth: number,
    readonly sort: string,
    readonly label: string,
    readonly note: string,
    readonly above: Group | null,
    /** Counts over all items in it. */
    readonly counts: Tally,
    readonly fullness: FullnessTally | null,
    private readonly byGroup: ByGroup,
  ) {}

  /** Counts an item that comes or goes. */
  count(item: Item, by: 1 | -1): void {
    this.counts.add(item, by);
    this.fullness?.add(item, by);
  }

  /** All items in it, those of its groups included. */
  get items(): readonly Item[] {
    this.all ??=
      this.groups.size === 0
        ? this.own.map(({ item }) => item)
        : this.inOrder().flatMap(({ items }) => items);
    return this.all;
  }

  get apart(): string {
    if (this.level !== 'release' || this.above?.hasNamesake(this) !== true) return '';
    const first = this.items[0];
    return first ? releaseWords(first) : '';
  }

  add(group: Group): void {
    this.groups.set(group.sort, group);
    this.touchGroups();
    const key = wordsOf(group);
    const alike = this.namesakes.get(key) ?? new Set();
    this.namesakes.set(key, alike.add(group));
    touchNamesakes(alike);
  }

  delete(group: Group): void {
    this.groups.delete(group.sort);
    this.touchGroups();
    const alike = this.namesakes.get(wordsOf(group));
    alike?.delete(group);
    if (alike?.size === 0) this.namesakes.delete(wordsOf(group));
    else if (alike) touchNamesakes(alike);
  }

  private hasNamesake(group: Group): boolean {
    return (this.namesakes.get(wordsOf(group))?.size ?? 0) > 1;
  }

  inOrder(): readonly Group[] {
    this.ordered ??= [...this.groups.values()].sort(this.byGroup);
    return this.ordered;
  }

  /** Something in it came or went, or is another one. */
  touch(): void {
    // By name groups stay where they are, whatever is in them.
    if (this.byGroup !== byName) this.ordered = null;
    this.all = null;
    this.shown = null;
  }

  /** A group in it came or went. */
  touchGroups(): void {
    this.ordered = null;
    this.touch();
  }

  /** It as a row: another one once something in it has changed, so that what is shown of it is drawn anew. */
  row(closed: boolean): Group {
    if (this.shown?.closed !== closed) {
      this.shown = Object.assign(Object.create(Group.prototype) as Group, this);
      this.shown.closed = closed;
    }
    return this.shown;
  }
}

const wordsOf = ({ label, note }: GroupRow): string => `${label}\n${note}`;

/** The first of them has to tell itself apart only once a second one is there, and no more once that goes. */
function touchNamesakes(alike: ReadonlySet<Group>): void {
  if (alike.size <= 2) for (const group of alike) group.touch();
}

/**
 * The rows of a ledger, kept as items change: what one edit touches is found without looking at the others. Building
 * them goes in steps, so that whoever waits for them can do something else in between.
 */
export class LiveRows {
  private root: Group;
  private homes = new Map<ItemId, { readonly row: ItemRow; readonly path: readonly Group[] }>();
  private test: (item: Item) => boolean = () => true;
  private levels: readonly Level[] = [];
  private ordering = new ItemOrdering(OWN_ORDER);
  private byGroup: ByGroup = byName;
  private strips = false;
  private arrivals: ReadonlyMap<string, Arrival> = new Map();

  constructor(private readonly gapsOf: GapsOf = () => 0) {
    this.root = this.emptyRoot();
  }

  /** Counts over the items that are shown, as they stand. */
  counts(): Counts {
    return this.root.counts.counts();
  }

  /** Begins anew with these items. Each step is short; the rows are there after the last one. */
  *build(
    items: readonly Item[],
    {
      scope,
      levels,
      arrivals,
      world = nowhere(),
      sorting = OWN_ORDER,
      strips = false,
      groupSorting = BY_NAME,
    }: RowsQuery,
  ): Generator<void> {
    this.strips = strips;
    this.byGroup = comparingGroups(groupSorting);
    this.levels = levels.filter((level) => level !== 'none');
    this.root = this.emptyRoot();
    this.homes = new Map();
    this.test = scopeTest(scope, world);
    this.ordering = new ItemOrdering(sorting);
    const byItem = this.ordering.compare;
    this.arrivals = new Map(arrivals.map((arrival) => [arrival.id, arrival]));
    for (let at = 0; at < items.length; at++) {
      const item = items[at] as Item;
      if (this.test(item)) {
        const path = this.pathOf(item);
        const row = this.rowOf(item);
        (path.at(-1) as Group).own.push(row);
        this.homes.set(item.id, { row, path });
        for (const group of path) group.count(item, 1);
      }
      if (at % AT_ONCE === AT_ONCE - 1) yield;
    }
    let sorted = 0;
    for (const group of this.leaves(this.root)) {
      if (group.own.length > SORTED_AT_ONCE) yield* sortSteps(group.own, byItem, SORTED_AT_ONCE);
      else group.own.sort(byItem);
      sorted += group.own.length;
      if (sorted > SORTED_AT_ONCE) {
        sorted = 0;
        yield;
      }
    }
  }

  /** Takes changes up, in time that does not grow with the library but for copying the lists that they touch. */
  change(changes: readonly ItemChange[]): void {
    const byItem = this.ordering.compare;
    const leaving = new Map<Group, Set<ItemRow>>();
    const coming = new Map<Group, ItemRow[]>();
    for (const { before, after } of changes) {
      const home = before && this.homes.get(before.id);
      if (home) {
        this.homes.delete(home.row.key);
        listFor(leaving, home.path.at(-1) as Group, () => new Set<ItemRow>()).add(home.row);
        this.touch(home.path, home.row.item, -1);
      }
      if (!after || !this.test(after)) continue;
      const path = this.pathOf(after);
      const row = this.rowOf(after);
      listFor(coming, path.at(-1) as Group, () => []).push(row);
      this.homes.set(after.id, { row, path });
      this.touch(path, after, 1);
    }
    for (const leaf of new Set([...leaving.keys(), ...coming.keys()]))
      leaf.own = exchanged(leaf.own, leaving.get(leaf), coming.get(leaf)?.sort(byItem) ?? [], byItem);
    for (const leaf of leaving.keys()) this.prune(leaf);
  }

  /** Arrivals as they are now, for items that come by new ones. */
  know(arrivals: readonly Arrival[]): void {
    this.arrivals = new Map(arrivals.map((arrival) => [arrival.id, arrival]));
  }

  /** Everything that is shown, in the order of the rows. */
  items(): readonly Item[] {
    return this.root.items;
  }

  /**
   * The rows as they stand, without what is in closed groups.
   * @param opened where it is told, groups of the last level are closed but for these
   */
  rows(closed: ReadonlySet<string>, opened: ReadonlySet<string> | null = null): readonly Row[] {
    const rows: Row[] = [];
    const last = this.levels.length - 1;
    const isClosed = ({ key, depth }: Group) =>
      opened !== null && depth === last ? !opened.has(key) : closed.has(key);
    this.addRows(this.root, isClosed, rows);
    return rows;
  }

  private addRows(group: Group, isClosed: (group: Group) => boolean, rows: Row[]): void {
    if (group.depth >= 0) {
      const row = group.row(isClosed(group));
      rows.push(row);
      if (row.closed) return;
    }
    for (const inner of group.inOrder()) this.addRows(inner, isClosed, rows);
    if (group.groups.size === 0) for (const row of group.own) rows.push(row);
  }

  private *leaves(group: Group): Generator<Group> {
    if (group.depth === this.levels.length - 1) yield group;
    else for (const inner of group.groups.values()) yield* this.leaves(inner);
  }

  /** The groups that an item belongs to, outermost first; they are made where they are not there yet. */
  private pathOf(item: Item): readonly Group[] {
    const path: Group[] = [this.root];
    for (const [depth, level] of this.levels.entries()) {
      const above = path[depth] as Group;
      const { sort, label, note } = groupOf(item, level, this.arrivals);
      let group = above.groups.get(sort);
      if (!group) {
        const key = `${depth === 0 ? '' : `${above.key}\n`}${level}:${sort}`;
        group = this.newGroup(key, level, depth, sort, label, note, above);
        above.add(group);
      }
      path.push(group);
    }
    return path;
  }

  private rowOf(item: Item): ItemRow {
    return { type: 'item', key: item.id, item, order: this.ordering.of(item) };
  }

  private touch(path: readonly Group[], item: Item, by: 1 | -1): void {
    for (const group of path) {
      group.touch();
      group.count(item, by);
    }
  }

  private emptyRoot(): Group {
    return this.newGroup('', 'none', -1, '', '', '', null);
  }

  private newGroup(
    key: string,
    level: Level,
    depth: number,
    sort: string,
    label: string,
    note: string,
    above: Group | null,
  ): Group {
    const fullness = this.strips && depth >= 0 ? new FullnessTally() : null;
    // Only the last level is put in order by what is wanted: those above it stay where they are looked for.
    const byGroup = depth === this.levels.length - 2 ? this.byGroup : byName;
    const counts = new Tally(this.gapsOf);
    return new Group(key, level, depth, sort, label, note, above, counts, fullness, byGroup);
  }

  /** Takes a group out that nothing is left in, and those above it that only held it. */
  private prune(leaf: Group): void {
    for (
      let group = leaf;
      group.above && group.own.length === 0 && group.groups.size === 0;
      group = group.above
    ) {
      group.above.delete(group);
    }
  }
}

function listFor<V>(map: Map<Group, V>, group: Group, make: () => V): V {
  let list = map.get(group);
  if (!list) map.set(group, (list = make()));
  return list;
}

/** How few entries are put in and taken out one by one: beyond, one pass over the list costs less. */
const FEW = 8;

/** An ordered list without some entries and with others, which come in order. */
function exchanged(
  list: readonly ItemRow[],
  leaving: ReadonlySet<ItemRow> | undefined,
  coming: readonly ItemRow[],
  byItem: ByItem,
): ItemRow[] {
  if ((leaving?.size ?? 0) + coming.length <= FEW) {
    const next = list.slice();
    for (const row of leaving ?? []) {
      const at = placeIn(next, row, byItem);
      if (next[at] === row) next.splice(at, 1);
    }
    for (const row of coming) next.splice(placeIn(next, row, byItem), 0, row);
    return next;
  }
  const next: ItemRow[] = [];
  let at = 0;
  for (const row of list) {
    if (leaving?.has(row)) continue;
    while (at < coming.length && byItem(coming[at] as ItemRow, row) < 0) next.push(coming[at++] as ItemRow);
    next.push(row);
  }
  return next.concat(coming.slice(at));
}

/** Where a row stands among others in order, or would stand. */
function placeIn(rows: readonly ItemRow[], row: ItemRow, byItem: ByItem): number {
  let [low, high] = [0, rows.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (byItem(rows[middle] as ItemRow, row) < 0) low = middle + 1;
    else high = middle;
  }
  return low;
}

type ByGroup = (a: Group, b: Group) => number;
const byName: ByGroup = (a, b) => (a.sort < b.sort ? -1 : 1);

function comparingGroups({ by, down }: GroupSorting): ByGroup {
  const turn = down ? -1 : 1;
  if (by === 'name') return (a, b) => byName(a, b) * turn;
  const keyOf = ({ counts, fullness }: Group): number | null => {
    if (by === 'items') return counts.items;
    return by === 'full' ? (fullness?.share() ?? null) : (fullness?.shareOf(by) ?? null);
  };
  return (a, b) => {
    const [one, other] = [keyOf(a), keyOf(b)];
    // Who is not asked comes last in both directions.
    if (one === null || other === null) return Number(one === null) - Number(other === null) || byName(a, b);
    return (one - other) * turn || byName(a, b);
  };
}

type ByItem = (a: ItemRow, b: ItemRow) => number;
