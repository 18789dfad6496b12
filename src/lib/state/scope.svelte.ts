import {
  BY_NAME,
  LiveRows,
  MOST_LEVELS,
  OWN_ORDER,
  Tally,
  inScope,
  type ColumnKey,
  type Counts,
  type GapsOf,
  type GroupRow,
  type GroupSortKey,
  type GroupSorting,
  type ItemChange,
  type Level,
  type Row,
  type Scope,
  type Sorting,
} from '$lib/core/browse';
import type { Item, ItemId } from '$lib/core/items';
import {
  nowhere,
  parseQuery,
  queryOf,
  type Query,
  type QueryProblem,
  type QueryWorld,
} from '$lib/core/query';
import { Following } from './following';
import { inSpareTime } from './spare-time';
import type { Library } from './library.svelte';

export type Board = 'intake' | 'identify' | 'describe' | 'prepare' | 'lists' | 'players';

/** Boards with a ledger of items, each with its own grouping. */
const LAID_OUT: ReadonlySet<Board> = new Set(['intake', 'describe', 'prepare']);

export type LedgerShape = 'releases' | 'items';

/** The counts of an empty library. */
export const NONE: Counts = new Tally(() => 0).counts();

/** What the boards show: scope, grouping and order. The scope is shared; every board has its own grouping. */
export class ScopeState {
  scope = $state.raw<Scope>({ kind: null, text: '' });
  /** The error in its query, if there is one. The part before the error is used. */
  problem = $state.raw<QueryProblem | null>(null);
  /** Its parsed query, up to the first error. */
  query = $state.raw<Query>(queryOf(''));
  board = $state<Board>('intake');
  /** What items are grouped by on each board, outermost first. */
  levels = $state.raw<Readonly<Record<Board, readonly Level[]>>>({
    intake: ['arrival'],
    identify: [],
    describe: ['release'],
    prepare: ['release'],
    lists: [],
    players: [],
  });
  /** The order within groups. */
  sorting = $state.raw<Sorting>(OWN_ORDER);
  /** Whether the ledger of Describe lists releases or items. */
  shape = $state<LedgerShape>('releases');
  /** The order of releases. */
  groupSorting = $state.raw<GroupSorting>(BY_NAME);
  closed = $state.raw<ReadonlySet<string>>(new Set());
  /** The open releases. */
  opened = $state.raw<ReadonlySet<string>>(new Set());
  rows = $state.raw<readonly Row[]>([]);
  /** Rows are being built. The rows on show have the previous scope or grouping. */
  building = $state(false);
  /** The items in scope, in the order of the rows. */
  readonly items: readonly Item[] = $derived.by(() => {
    void this.rows;
    return this.building ? inScope(this.library.items, this.scope, this.world()) : this.live.items();
  });

  counts = $state.raw<Counts>(NONE);

  /** Selected items in the order of the rows; unchanged if some of them are out of scope. */
  inRowOrder(chosen: readonly Item[]): readonly Item[] {
    if (chosen.length < 2) return chosen;
    const ids = new Set(chosen.map(({ id }) => id));
    const ordered = this.items.filter(({ id }) => ids.has(id));
    return ordered.length === chosen.length ? ordered : chosen;
  }

  private readonly live: LiveRows;
  /** The board whose grouping the rows have, and that grouping. */
  private ledgerOf = $state<Board>('intake');
  private laidOut = '';
  private endPreparing = () => {};
  private readonly following = new Following(
    (changes) => this.take(changes),
    () => this.showRows(),
  );

  constructor(
    private readonly library: Library,
    gapsOf: GapsOf = () => 0,
    /** What queries may ask beside items. */
    private readonly world: () => QueryWorld = () => nowhere(),
    /** The columns that items are likely to be sorted by. */
    private readonly columns: () => readonly ColumnKey[] = () => [],
  ) {
    this.live = new LiveRows(gapsOf);
    library.onChange((changes) => {
      if (changes === null) this.build(true);
      else this.following.change(changes);
    });
    this.build();
  }

  /** Changes the scope. Of a query with an error, the part before it is used. */
  narrow(scope: Scope): void {
    this.scope = scope;
    const parsed = parseQuery(scope.text, this.world());
    this.problem = parsed.type === 'wrong' ? parsed.problem : null;
    this.query = parsed.type === 'wrong' ? parsed.before : parsed.query;
    this.build();
  }

  /** Sets the board. A board without a ledger of items leaves the rows as they are. */
  show(board: Board): void {
    if (board === this.board) return;
    this.board = board;
    if (!LAID_OUT.has(board)) return;
    this.ledgerOf = board;
    if (this.layout() !== this.laidOut) this.build();
  }

  /** The grouping of the current board, as a string that can be compared. */
  private layout(): string {
    const { levels, ledgerOf, onReleases } = this;
    return `${onReleases} ${levels[ledgerOf].join()}`;
  }

  /** Changes one level of the grouping; `none` removes it and all below. */
  setLevel(index: number, level: Level): void {
    const before = this.levels[this.board];
    const rest = level === 'none' ? [] : before.slice(index + 1).filter((one) => one !== level);
    this.group([...before.slice(0, index), level, ...rest]);
  }

  /** Sorts by a field: ascending, then descending, then in the order of disc and track. */
  sortBy(by: ColumnKey): void {
    const { sorting } = this;
    if (sorting.by !== by) this.sort({ ...sorting, by, down: false });
    else this.sort(sorting.down ? { ...sorting, by: null, down: false } : { ...sorting, down: true });
  }

  sort(sorting: Sorting): void {
    this.sorting = sorting;
    this.build();
  }

  group(levels: readonly Level[]): void {
    const own = levels.filter((level) => level !== 'none').slice(0, MOST_LEVELS);
    this.levels = { ...this.levels, [this.board]: own };
    this.build();
  }

  /** Whether releases are rows that show which fields are filled. This needs at least one level. */
  get onReleases(): boolean {
    const { ledgerOf, shape, levels } = this;
    return ledgerOf === 'describe' && shape === 'releases' && levels[ledgerOf].length > 0;
  }

  setShape(shape: LedgerShape): void {
    if (shape === this.shape) return;
    this.shape = shape;
    this.build();
  }

  /** Sorts releases; a second time in the other direction. */
  sortGroupsBy(by: GroupSortKey): void {
    const { groupSorting } = this;
    this.groupSorting = { by, down: groupSorting.by === by && !groupSorting.down };
    this.build();
  }

  /** Opens or closes a group. */
  toggle({ key, depth }: Pick<GroupRow, 'key' | 'depth'>): void {
    const isRelease = this.onReleases && depth === this.levels[this.ledgerOf].length - 1;
    const next = new Set(isRelease ? this.opened : this.closed);
    if (!next.delete(key)) next.add(key);
    if (isRelease) this.opened = next;
    else this.closed = next;
    if (!this.following.isBuilding) this.rows = this.rowsNow();
  }

  private rowsNow(): readonly Row[] {
    return this.live.rows(this.closed, this.onReleases ? this.opened : null);
  }

  /** Counts again after what counts as a gap has changed. */
  recount(): void {
    this.live.recount();
    this.build();
  }

  /** @param others all items may have changed: the page is drawn first with the items of the rows on show */
  private build(others = false): void {
    const { scope, levels, ledgerOf, sorting, library, onReleases: strips, groupSorting } = this;
    const world = this.world();
    this.endPreparing();
    this.laidOut = this.layout();
    const query = { scope, levels: levels[ledgerOf], arrivals: library.arrivals, sorting, world };
    const steps = this.live.build(library.items, strips ? { ...query, strips, groupSorting } : query);
    if (others) this.following.rebuild(steps, library.items.length);
    else this.following.build(steps);
    this.building = this.following.isBuilding;
  }

  /** Prepares the next build while the page is idle. */
  private prepareSoon(): void {
    const { withoutArticles } = this.sorting;
    const columns: readonly (ColumnKey | null)[] = [null, ...this.columns()];
    this.endPreparing = inSpareTime(this.live.prepare(columns.map((by) => ({ by, withoutArticles }))));
  }

  end(): void {
    this.endPreparing();
  }

  private take(changes: readonly ItemChange[]): void {
    this.endPreparing();
    // A new arrival has a group of its own.
    if (changes.some(({ before, after }) => after && before?.arrival !== after.arrival))
      this.live.know(this.library.arrivals);
    this.live.change(changes);
  }

  private showRows(): void {
    this.building = false;
    this.rows = this.rowsNow();
    this.counts = this.live.counts();
    this.endPreparing();
    this.prepareSoon();
  }
}

/** The selected items, and the row with the keyboard focus. */
export class LedgerSelection {
  ids = $state.raw<ReadonlySet<ItemId>>(new Set());
  /** Key of the row with the keyboard focus. */
  cursor = $state<string | null>(null);
  private anchor: string | null = null;

  readonly items: readonly Item[] = $derived.by(() => {
    // Read first, so that the selection follows every edit.
    const { items } = this.library;
    if (this.ids.size === 0) return [];
    return this.ids.size < 50 ? this.library.findAll(this.ids) : this.inOrder(items);
  });

  private places: { readonly of: ReadonlySet<ItemId>; readonly at: readonly number[] } | null = null;

  constructor(private readonly library: Library) {}

  /** In the order of the library. Their places are looked up once, and again after items came or went. */
  private inOrder(items: readonly Item[]): readonly Item[] {
    const { ids, places } = this;
    const found = places?.of === ids ? places.at.map((place) => items[place]) : [];
    if (found.length === ids.size && found.every((item) => item && ids.has(item.id)))
      return found as readonly Item[];
    const at = items.flatMap(({ id }, place) => (ids.has(id) ? [place] : []));
    this.places = { of: ids, at };
    return at.map((place) => items[place] as Item);
  }

  set(ids: Iterable<ItemId>, cursor: string | null = this.cursor): void {
    this.ids = new Set(ids);
    this.cursor = cursor;
    this.anchor = cursor;
  }

  /** Selects one row only; a group selects its items. */
  only(row: Row): void {
    this.set(idsOf(row), row.key);
  }

  /** Adds a row to the selection, or removes it. */
  toggle(row: Row): void {
    const next = new Set(this.ids);
    const ids = idsOf(row);
    const all = ids.every((id) => next.has(id));
    for (const id of ids) {
      if (all) next.delete(id);
      else next.add(id);
    }
    this.ids = next;
    this.cursor = row.key;
    this.anchor = row.key;
  }

  /** Selects everything from where the selection began to this row. */
  extend(rows: readonly Row[], to: Row): void {
    const from = rows.findIndex(({ key }) => key === (this.anchor ?? this.cursor));
    const end = rows.indexOf(to);
    const [low, high] = from < 0 ? [end, end] : [Math.min(from, end), Math.max(from, end)];
    this.ids = new Set(
      rows.slice(low, high + 1).flatMap((row) => (row.type === 'item' ? [row.item.id] : [])),
    );
    this.cursor = to.key;
    this.anchor ??= to.key;
  }
}

const idsOf = (row: Row): ItemId[] => (row.type === 'item' ? [row.item.id] : row.items.map(({ id }) => id));
