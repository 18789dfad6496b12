import type { Item, ItemId } from '$lib/core/items';
import type { HandList, OpenSaid } from '$lib/core/lists';

/** The head of a suite that has a name, or more than one entry. */
export interface SuiteRow {
  readonly type: 'suite';
  readonly key: string;
  /** Its place among the suites of its list. */
  readonly suite: number;
  readonly name: string | null;
  /** Positions of its entries. */
  readonly positions: readonly number[];
  readonly seconds: number;
}

export interface EntryRow {
  readonly type: 'entry';
  readonly key: string;
  readonly position: number;
  /** Null for an open entry. The item is looked up when the row is drawn, so that an edit does not make rows again. */
  readonly item: ItemId | null;
  readonly open: OpenSaid | null;
  /** It belongs to a suite that has a head. */
  readonly inSuite: boolean;
  /** Beyond the limit of its list. */
  readonly isBeyond: boolean;
}

/** Separates the content of a list from items beyond its limit. */
export interface LimitRow {
  readonly type: 'limit';
  readonly key: string;
  readonly beyond: number;
  /** How many of those follow. */
  readonly shown: number;
}

export type ListRow = SuiteRow | EntryRow | LimitRow;

type Find = (id: ItemId) => Item | null;
/** Whether an entry is in scope; null if all are, so that items of a long list need not be looked up. */
type IsShown = (item: Item | null) => boolean;

const PLACE: ListRow = { type: 'limit', key: '', beyond: 0, shown: 0 };

/** A hand list as ledger rows: headings of suites, and entries. @param isShown leaves entries out */
export function handRows(
  { suites }: Pick<HandList, 'suites'>,
  find: Find,
  isShown: IsShown | null,
): readonly ListRow[] {
  const rows: ListRow[] = [];
  let position = 0;
  suites.forEach(({ name, entries }, suite) => {
    const inSuite = name !== null || entries.length > 1;
    const first = position;
    const headAt = rows.length;
    let seconds = 0;
    for (const entry of entries) {
      const id = 'item' in entry ? entry.item : null;
      const item = id && (inSuite || isShown) ? find(id) : null;
      const open = 'open' in entry ? entry.open : null;
      const at = position++;
      seconds += item?.facts.durationSeconds ?? open?.seconds ?? 0;
      if (isShown?.(item) === false) continue;
      // Its place is kept for the head, which is made once all of the suite is known.
      if (inSuite && rows.length === headAt) rows.push(PLACE);
      rows.push({
        type: 'entry',
        key: `entry ${at}`,
        position: at,
        item: id,
        open,
        inSuite,
        isBeyond: false,
      });
    }
    if (!inSuite || rows.length === headAt) return;
    const positions = entries.map((_, place) => first + place);
    rows[headAt] = { type: 'suite', key: `suite ${suite}`, suite, name, positions, seconds };
  });
  return rows;
}

/** The content of a rule or folder list as ledger rows. @param count of all items beyond the limit */
export function foundRows(
  found: { readonly items: readonly ItemId[]; readonly beyond: readonly ItemId[] },
  count: number,
  find: Find,
  isShown: IsShown | null,
): readonly ListRow[] {
  const rowOf = (id: ItemId, position: number, isBeyond: boolean): EntryRow[] => {
    const item = find(id);
    if (!item || isShown?.(item) === false) return [];
    return [
      { type: 'entry', key: `entry ${position}`, position, item: id, open: null, inSuite: false, isBeyond },
    ];
  };
  const within = found.items.flatMap((id, at) => rowOf(id, at, false));
  const beyond = found.beyond.flatMap((id, at) => rowOf(id, found.items.length + at, true));
  if (beyond.length === 0) return within;
  return [...within, { type: 'limit', key: 'limit', beyond: count, shown: found.beyond.length }, ...beyond];
}

/** Positions of the entries of a row. */
export const positionsOf = (row: ListRow): readonly number[] =>
  row.type === 'suite' ? row.positions : row.type === 'entry' ? [row.position] : [];
