import { FACT_COLUMNS, type ColumnKey } from '$lib/core/browse';
import { FIELD_NAMES } from '$lib/core/items';
import { array, number, object, string } from 'yup';

/** A column of the ledger of items. */
export interface Column {
  readonly key: ColumnKey;
  /** Its share of the width, in pixels where all of them fit exactly. */
  readonly width: number;
}

/** Every column that there can be, in the order in which they are offered. */
export const ALL_COLUMNS: readonly ColumnKey[] = [...FIELD_NAMES, ...FACT_COLUMNS];
const AT_FIRST: readonly Column[] = [
  { key: 'track', width: 44 },
  { key: 'title', width: 180 },
  { key: 'artist', width: 140 },
  { key: 'albumArtist', width: 140 },
  { key: 'album', width: 130 },
  { key: 'date', width: 60 },
  { key: 'genre', width: 80 },
  { key: 'picture', width: 56 },
];
/** Widths in pixels. */
export const NARROWEST = 32;
export const WIDEST = 640;
const NEW_WIDTH = 100;
const KEY = 'lectorum-columns';

const keptSchema = array(
  object({
    key: string<ColumnKey>()
      .oneOf([...ALL_COLUMNS])
      .required(),
    width: number().min(NARROWEST).max(WIDEST).required(),
  }),
).min(1);

/** The columns of the ledger of items: which, in what order, how wide. This browser keeps them. */
class Columns {
  list = $state.raw<readonly Column[]>(kept());

  has(key: ColumnKey): boolean {
    return this.list.some((column) => column.key === key);
  }

  /** Adds a column at the end or removes it; the last one stays. */
  toggle(key: ColumnKey): void {
    const rest = this.list.filter((column) => column.key !== key);
    if (rest.length === this.list.length) this.set([...rest, { key, width: NEW_WIDTH }]);
    else if (rest.length > 0) this.set(rest);
  }

  /** Moves a column by some places. */
  move(key: ColumnKey, by: number): void {
    const from = this.list.findIndex((column) => column.key === key);
    const to = from + by;
    const column = this.list[from];
    if (!column || to < 0 || to >= this.list.length) return;
    const next = this.list.filter((one) => one !== column);
    next.splice(to, 0, column);
    this.set(next);
  }

  /** Makes a column wider by some pixels, or narrower; the next one gives or takes them. */
  widen(index: number, by: number): void {
    const [one, next] = [this.list[index], this.list[index + 1]];
    if (!one || !next) return;
    const most = Math.min(WIDEST - one.width, next.width - NARROWEST);
    const least = Math.max(NARROWEST - one.width, next.width - WIDEST);
    const own = Math.max(least, Math.min(most, by));
    if (own === 0) return;
    const list = [...this.list];
    list[index] = { ...one, width: one.width + own };
    list[index + 1] = { ...next, width: next.width - own };
    this.set(list);
  }

  /** All of it as it was at first. */
  reset(): void {
    this.set(AT_FIRST);
  }

  private set(list: readonly Column[]): void {
    this.list = list;
    localStorage.setItem(KEY, JSON.stringify(list));
  }
}

/** What an earlier visit kept; columns that are not known here are as good as none. */
function kept(): readonly Column[] {
  try {
    const list = keptSchema.validateSync(JSON.parse(localStorage.getItem(KEY) ?? ''), { strict: true });
    const keys = new Set(list?.map(({ key }) => key));
    return list && keys.size === list.length ? list : AT_FIRST;
  } catch {
    return AT_FIRST;
  }
}

export const columns = new Columns();
