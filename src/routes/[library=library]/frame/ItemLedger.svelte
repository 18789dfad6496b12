<script lang="ts">
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { Snippet } from 'svelte';
  import type { GroupRow, Row } from '$lib/core/browse';
  import type { FieldName, Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import { ledgerKeys } from './ledger-keys';

  /** The items in scope under their groups, with the selection. Boards say what stands in a row. */
  let {
    label,
    columns,
    names,
    sorts = [],
    rowHeight,
    selectsGroups = false,
    onkey = (event, row) => ledgerKeys(event, row, session),
    group,
    item,
  }: {
    label: string;
    /** Widths of the columns, as CSS has them in a grid. */
    columns: string;
    /** Heads of the columns; an empty one has none. */
    names: readonly string[];
    /** What each column is put in order by; nothing where it cannot be. */
    sorts?: readonly (FieldName | null)[];
    rowHeight?: number;
    /** A group is shown as selected when all that is in it is. */
    selectsGroups?: boolean;
    onkey?: (event: KeyboardEvent, row: Row | null) => void;
    group: Snippet<[GroupRow]>;
    /** Its cells; the row itself is made here. */
    item: Snippet<[Item]>;
  } = $props();

  const session = getSession();
  const { scope, selection } = session;

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
>
  {#snippet head()}
    <div class="cols">
      {#each names as name, index (index)}
        {@const by = sorts[index] ?? null}
        {#if name === ''}<span></span>
        {:else if by === null}<span role="columnheader">{name}</span>
        {:else}
          {@const isBy = scope.sorting.by === by}
          <span
            role="columnheader"
            aria-sort={isBy ? (scope.sorting.down ? 'descending' : 'ascending') : 'none'}
            ><button class="sort" class:by={isBy} onclick={() => scope.sortBy(by)}
              >{name}{#if isBy}{#if scope.sorting.down}<ArrowDown
                    size={12}
                    aria-hidden="true"
                  />{:else}<ArrowUp size={12} aria-hidden="true" />{/if}{/if}</button
            ></span
          >
        {/if}
      {/each}
    </div>
  {/snippet}
  {#snippet row(row)}
    {#if row.type === 'group'}
      <div class="group" role="gridcell" style:padding-left="{16 + row.depth * 16}px">
        <button
          aria-expanded={!row.closed}
          aria-label={row.closed ? `Open ${row.label}` : `Close ${row.label}`}
          onclick={() => scope.toggle(row.key)}
        >
          {#if row.closed}<ChevronRight size={15} />{:else}<ChevronDown size={15} />{/if}
        </button>
        {@render group(row)}
      </div>
    {:else}
      {@render item(row.item)}
    {/if}
  {/snippet}
</Ledger>

<style>
  .sort {
    display: inline-flex;
    align-items: center;
    gap: 3px;
    max-width: 100%;
    white-space: nowrap;
  }
  .sort.by {
    color: var(--ink);
    font-weight: 600;
  }
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
