import type { ItemId } from '$lib/core/items';
import { firstOf, type Changed } from '$lib/core/lists';
import type { LedgerSelection } from '../scope.svelte';
import { positionsOf, type ListRow } from './list-rows';

const NONE: ReadonlySet<number> = new Set();

/** The selected entries of a list, by position, because an item can be in it twice. The card follows. */
export class ListSelection {
  positions = $state.raw<ReadonlySet<number>>(NONE);
  /** Key of the row with the keyboard cursor. */
  cursor = $state<string | null>(null);
  private anchor: string | null = null;

  constructor(private readonly card: LedgerSelection) {}

  clear(): void {
    this.positions = NONE;
    this.cursor = null;
    this.anchor = null;
  }

  pick(rows: readonly ListRow[], row: ListRow, how: 'only' | 'toggle' | 'extend'): void {
    const own = positionsOf(row);
    if (how === 'extend') this.extend(rows, row);
    else if (how === 'toggle') {
      const next = new Set(this.positions);
      const isAll = own.every((one) => next.has(one));
      for (const one of own) {
        if (isAll) next.delete(one);
        else next.add(one);
      }
      this.positions = next;
    } else this.positions = new Set(own);
    this.cursor = row.key;
    if (how !== 'extend') this.anchor = row.key;
    this.tellCard(rows);
  }

  all(rows: readonly ListRow[]): void {
    this.positions = new Set(rows.flatMap(positionsOf));
    this.tellCard(rows);
  }

  /** Moves the selection with entries that were moved. */
  follow({ positions }: Changed): void {
    const stood = this.cursor?.startsWith('entry ');
    this.positions = positions;
    if (stood && positions.size > 0) this.cursor = `entry ${firstOf(positions)}`;
    this.anchor = this.cursor;
  }

  private extend(rows: readonly ListRow[], to: ListRow): void {
    const from = rows.findIndex(({ key }) => key === (this.anchor ?? this.cursor));
    const end = rows.indexOf(to);
    const [low, high] = from < 0 ? [end, end] : [Math.min(from, end), Math.max(from, end)];
    this.positions = new Set(
      rows.slice(low, high + 1).flatMap((row) => (row.type === 'entry' ? positionsOf(row) : [])),
    );
    this.anchor ??= to.key;
  }

  private tellCard(rows: readonly ListRow[]): void {
    const ids: ItemId[] = [];
    for (const row of rows)
      if (row.type === 'entry' && row.item && this.positions.has(row.position)) ids.push(row.item);
    this.card.set(ids, null);
  }
}
