<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { GroupRow, Row } from '$lib/core/browse';
  import type { Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import ColumnHead from './ColumnHead.svelte';
  import GroupToggle from './GroupToggle.svelte';
  import type { Head } from './heads';
  import { ledgerKeys } from './ledger-keys';

  /** The items in scope under their groups, with the selection. Boards say what stands in a row. */
  let {
    label,
    columns,
    heads,
    rowHeight,
    selectsGroups = false,
    onkey = (event, row) => ledgerKeys(event, row, session),
    group,
    release,
    item,
  }: {
    label: string;
    /** Widths of the columns, as CSS has them in a grid. */
    columns: string;
    heads: readonly Head[];
    rowHeight?: number;
    /** A group is shown as selected when all that is in it is. */
    selectsGroups?: boolean;
    onkey?: (event: KeyboardEvent, row: Row | null) => void;
    group: Snippet<[GroupRow]>;
    /** The cells of a group of the last level, where it is a row of the columns itself. */
    release?: Snippet<[GroupRow]>;
    /** Its cells; the row itself is made here. */
    item: Snippet<[Item]>;
  } = $props();

  const session = getSession();
  const { library, scope, selection } = session;

  /** Of the last level. */
  const depth = $derived(scope.levels[scope.board].length - 1);

  const isDragged = (row: Row): boolean =>
    row.type === 'item' ? selection.ids.has(row.item.id) : row.items.every(({ id }) => selection.ids.has(id));

  const isSelected = (row: Row): boolean =>
    row.type === 'item'
      ? selection.ids.has(row.item.id)
      : selectsGroups && row.items.every(({ id }) => selection.ids.has(id));
</script>

<Ledger
  rows={scope.rows}
  cursor={selection.cursor}
  {label}
  {columns}
  {rowHeight}
  {isSelected}
  onpick={(row, how) =>
    how === 'only'
      ? selection.only(row)
      : how === 'toggle'
        ? selection.toggle(row)
        : selection.extend(scope.rows, row)}
  {onkey}
  ondrag={(row) => {
    // A row that is not selected is dragged alone.
    if (!isDragged(row)) selection.only(row);
    session.dragging = true;
  }}
  ondragend={() => (session.dragging = false)}
>
  {#snippet head()}
    <div class="cols">
      {#each heads as head, index (index)}<ColumnHead {head} />{/each}
    </div>
  {/snippet}
  {#snippet row(row)}
    {#if row.type === 'group' && release && row.depth === depth}
      {@render release(row)}
    {:else if row.type === 'group'}
      <div class="group" role="gridcell" style:padding-left="{16 + row.depth * 16}px">
        <GroupToggle {row} />
        {@render group(row)}
      </div>
    {:else}
      <!-- As it is now: rows are made anew a moment after many items changed. -->
      {@const own = library.find(row.item.id) ?? row.item}
      {@render item(own)}
    {/if}
  {/snippet}
</Ledger>

<style>
  .group {
    display: flex;
    align-items: center;
    gap: 8px;
    height: 100%;
    padding-right: 16px;
    background: var(--sunk);
    white-space: nowrap;
    overflow: hidden;
  }
  .group :global(b) {
    font-family: var(--font-head);
  }
  .group :global(.end) {
    display: flex;
    gap: 12px;
    margin-left: auto;
  }
</style>
