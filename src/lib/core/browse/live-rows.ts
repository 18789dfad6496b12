import { nowhere, testOf, queryOf, type Asking, type QueryWorld } from '../query';
import { kindOf, type Arrival, type Item, type ItemId } from '../items';
import { ItemEntry } from './entries';
import { GroupNames } from './group-names';
import { Group, byName, comparingGroups, type Grouping, type LaidItem, type LaidRow } from './groups';
import {
  BY_NAME,
  OWN_ORDER,
  type ColumnSorting,
  type GroupSorting,
  type Ordering,
  type Sorting,
} from './order';
import { Orders, exchanged } from './orders';
import { ASKING, LEVELS, type Level, type Row, type Scope } from './rows';
import type { Counts, GapsOf, ItemChange } from './tally';

/** What a ledger shows: the scope, the groups and the order. */
export interface RowsQuery {
  readonly scope: Scope;
  readonly levels: readonly Level[];
  readonly arrivals: readonly Arrival[];
  /** What its query can ask that is not stored in items. */
  readonly world?: QueryWorld;
  /** The order within groups; by disc and track if absent. */
  readonly sorting?: Sorting;
  /** Whether groups count which fields are filled. */
  readonly strips?: boolean;
  /** The order of groups of the last level; by name if absent. */
  readonly groupSorting?: GroupSorting;
}

/** Items per step. */
const AT_ONCE = 1500;

/** How queries ask an entry: its item, with the search text that the entry remembers. */
const ENTRY_ASKING: Asking<LaidItem> = {
  asked: ({ item }) => ASKING.asked(item),
  text: ({ haystack }) => haystack,
};

/** A test whether an entry is in scope. The query is parsed once. */
function entryTest({ kind, text }: Scope, world: QueryWorld): (entry: LaidItem) => boolean {
  const meets = testOf(queryOf(text, world), ENTRY_ASKING, world);
  return (entry) => (kind === null || (kindOf(entry.item) ?? 'open') === kind) && meets(entry);
}

/**
 * The rows of a ledger, kept up to date as items change: an edit only touches its own rows and groups. There is one entry
 * per item, which remembers what grouping, searching and counting need, and every sort order that was used is kept. So
 * narrowing, grouping and sorting are one pass over a sorted list. Long work is a generator of short steps, so that the
 * page can do other things in between.
 */
export class LiveRows {
  private entries: Map<ItemId, LaidItem> = new Map();
  /** In the order of the library when rows were last built. */
  private all: readonly LaidItem[] = [];
  /** Entries that `prepare` has not seen yet. */
  private fresh: LaidItem[] = [];
  private root: Group;
  private test: (entry: LaidItem) => boolean = () => true;
  private grouping: Grouping;
  private readonly orders = new Orders();
  private ordering: Ordering;
  private isDown = false;
  private readonly names = new GroupNames();

  constructor(private readonly gapsOf: GapsOf = () => 0) {
    this.ordering = this.orders.orderingOf(OWN_ORDER);
    this.grouping = { gapsOf, levels: [], strips: false, byGroup: byName };
    this.root = new Group(this.grouping, null, null);
  }

  /** Counts over the items that are shown. The result does not change later. */
  counts(): Counts {
    return this.root.counts.counts();
  }

  /** Forgets counted gaps, because what counts as a gap has changed. Call `build` afterwards. */
  recount(): void {
    for (const entry of this.entries.values()) entry.uncount();
  }

  /** Builds the rows of these items, in short steps. The rows are complete after the last one. */
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
    yield* this.takeOver(items);
    this.know(arrivals);
    const sorted = yield* this.orders.sorted(this.all, sorting);
    this.ordering = this.orders.orderingOf(sorting);
    this.isDown = sorting.by !== null && sorting.down;
    this.test = entryTest(scope, world);
    this.grouping = {
      gapsOf: this.gapsOf,
      levels: levels.filter((level) => level !== 'none'),
      strips,
      byGroup: comparingGroups(groupSorting),
    };
    this.root = new Group(this.grouping, null, null);
    for (let at = 0; at < sorted.length; at++) {
      const entry = sorted[at] as LaidItem;
      if (this.test(entry)) {
        entry.standIn(this.leavesOf(entry));
        for (let place = 0; place < entry.leaves.length; place++)
          (entry.leaves[place] as Group).own.push(entry.rowAt(place));
      } else if (entry.leaves.length > 0) entry.leave();
      if (at % AT_ONCE === AT_ONCE - 1) yield;
    }
  }

  /** Makes sure that there is an entry for each of these items. Entries of unchanged items are kept. */
  private *takeOver(items: readonly Item[]): Generator<void> {
    const next: LaidItem[] = [];
    const fresh: LaidItem[] = [];
    for (let at = 0; at < items.length; at++) {
      const item = items[at] as Item;
      let entry = this.all[at];
      if (entry?.item !== item) entry = this.entries.get(item.id);
      if (entry?.item !== item) {
        entry = new ItemEntry<Group>(item);
        fresh.push(entry);
      }
      next.push(entry);
      if (at % AT_ONCE === AT_ONCE - 1) yield;
    }
    const before = this.entries;
    const isSame = fresh.length === 0 && next.length === before.size;
    this.all = next;
    if (isSame) return;
    this.entries = new Map(next.map((entry) => [entry.key, entry]));
    if (2 * fresh.length > before.size) {
      this.fresh = fresh;
      return this.orders.forget();
    }
    for (const entry of fresh) this.fresh.push(entry);
    for (const entry of before.values())
      if (this.entries.get(entry.key) !== entry) this.orders.note(entry, null);
    for (const entry of next) if (before.get(entry.key) !== entry) this.orders.note(null, entry);
  }

  /**
   * Computes what `build` may need next: search texts, names of groups, and some sort orders. Runs in short steps while the
   * page is idle, and only for entries that are new.
   */
  *prepare(sortings: readonly ColumnSorting[]): Generator<void> {
    for (let entry = this.fresh.pop(); entry; entry = this.fresh.pop()) {
      void entry.haystack;
      for (const level of LEVELS) if (level !== 'none') this.names.of(entry, level);
      if (this.fresh.length % PREPARED_AT_ONCE === 0) yield;
    }
    for (const sorting of sortings) {
      if (this.orders.has(sorting)) continue;
      for (const down of [false, true]) {
        // Not `all`, which does not contain changes since the last build; read again, because changes can come between.
        const all = [...this.entries.values()];
        yield* this.orders.sorted(all, { ...sorting, down });
      }
    }
  }

  /** Applies changes. Except for copying the lists of rows that they touch, the time does not depend on the library. */
  change(changes: readonly ItemChange[]): void {
    const { compare, compareDown } = this.ordering;
    const byEntry = this.isDown ? compareDown : compare;
    const byRow = (a: LaidRow, b: LaidRow) => byEntry(a.entry, b.entry);
    const leaving = new Map<Group, Set<LaidRow>>();
    const coming = new Map<Group, LaidRow[]>();
    const come: LaidItem[] = [];
    for (const { before, after } of changes) {
      const known = before && this.entries.get(before.id);
      if (known) this.takeOut(known, leaving);
      const entry = after && new ItemEntry<Group>(after);
      if (entry) this.entries.set(entry.key, entry);
      if (known || entry) this.orders.note(known ?? null, entry);
      if (entry && this.test(entry)) come.push(entry);
    }
    // Empty groups are removed first, because new items may bring the same name in another spelling.
    for (const [leaf, rows] of leaving) leaf.own = exchanged(leaf.own, rows, [], byRow);
    for (const leaf of leaving.keys()) leaf.prune();
    for (const entry of come) {
      entry.standIn(this.leavesOf(entry));
      for (const [place, leaf] of entry.leaves.entries())
        listFor(coming, leaf, () => []).push(entry.rowAt(place));
      this.tell(entry, 1);
    }
    for (const [leaf, rows] of coming) leaf.own = exchanged(leaf.own, NO_ROWS, rows.sort(byRow), byRow);
  }

  private takeOut(entry: LaidItem, leaving: Map<Group, Set<LaidRow>>): void {
    this.entries.delete(entry.key);
    for (const [place, leaf] of entry.leaves.entries())
      listFor(leaving, leaf, () => new Set<LaidRow>()).add(entry.rowAt(place));
    this.tell(entry, -1);
    entry.leave();
  }

  /** Sets the known arrivals, which groups by arrival are named after. */
  know(arrivals: readonly Arrival[]): void {
    this.names.know(arrivals);
  }

  /** All items that are shown, each once, in the order of the rows. */
  items(): readonly Item[] {
    return this.root.items;
  }

  /**
   * The rows, without the content of closed groups.
   * @param opened if given, all groups of the last level are closed except these
   */
  rows(closed: ReadonlySet<string>, opened: ReadonlySet<string> | null = null): readonly Row[] {
    const rows: Row[] = [];
    const last = this.grouping.levels.length - 1;
    const isClosed = ({ key, depth }: Group) =>
      opened !== null && depth === last ? !opened.has(key) : closed.has(key);
    this.addRows(this.root, isClosed, rows);
    return rows;
  }

  private addRows(group: Group, isClosed: (group: Group) => boolean, rows: Row[]): void {
    if (group.depth >= 0) {
      const closed = isClosed(group);
      rows.push(group.row(closed));
      if (closed) return;
    }
    for (const inner of group.inOrder()) this.addRows(inner, isClosed, rows);
    if (group.groups.size === 0) for (const row of group.own) rows.push(row);
  }

  /** The innermost groups of an item. Missing groups are created. */
  private leavesOf(entry: LaidItem): readonly Group[] {
    let leaves = this.root.alone;
    for (const level of this.grouping.levels) {
      const names = this.names.of(entry, level);
      leaves =
        leaves.length === 1 && names.length === 1
          ? (leaves[0] as Group).inside(names[0] as (typeof names)[number]).alone
          : leaves.flatMap((leaf) => names.map((name) => leaf.inside(name)));
    }
    return leaves;
  }

  /** Tells every group that contains an entry, up to the root, that it came or went: each group once. */
  private tell(entry: LaidItem, by: 1 | -1): void {
    for (const group of groupsOf(entry)) group.took(entry, by);
  }
}

const NO_ROWS: ReadonlySet<LaidRow> = new Set();

/** Items per step of `prepare`, which does more for each of them. */
const PREPARED_AT_ONCE = 100;

/** All groups that contain an entry, up to the root. */
function groupsOf({ leaves }: LaidItem): Iterable<Group> {
  const groups: Group[] = [];
  for (const leaf of leaves)
    for (let group: Group | null = leaf; group; group = group.above) {
      if (leaves.length > 1 && groups.includes(group)) break;
      groups.push(group);
    }
  return groups;
}

function listFor<V>(map: Map<Group, V>, group: Group, make: () => V): V {
  let list = map.get(group);
  if (!list) map.set(group, (list = make()));
  return list;
}
