<script lang="ts" generics="R extends { readonly key: string }">
  import type { Snippet } from 'svelte';
  import { Virtualizer } from '@tanstack/virtual-core';
  import { onMount, untrack } from 'svelte';
  import { Hurry } from './hurry';
  import { slotsOf, type Slot } from './slots';
  import { inElement } from './virtual-options';

  /**
   * A long list that is moved through by keyboard: arrows, Page, Home and End; Shift extends, Space
   * toggles. Only rows on screen exist; `aria-activedescendant` tells where the keyboard stands.
   */
  let {
    rows,
    cursor,
    label,
    isSelected,
    onpick,
    onkey,
    head,
    row: drawRow,
    rowHeight = 29,
    columns,
    ondrag,
    ondragend,
    ondrop,
  }: {
    rows: readonly R[];
    cursor: string | null;
    label: string;
    isSelected: (row: R) => boolean;
    onpick: (row: R, how: 'only' | 'toggle' | 'extend') => void;
    /** Keys that the ledger does not know itself. */
    onkey?: (event: KeyboardEvent, row: R | null) => void;
    head?: Snippet;
    row: Snippet<[R]>;
    rowHeight?: number;
    /** Widths of the columns of what is marked `.cols`, as CSS has them in a grid. */
    columns?: string;
    /** A row is about to be dragged, with all that is selected where it is part of that. */
    ondrag?: (row: R) => void;
    ondragend?: () => void;
    /** What is dragged was let go on the upper half of a row, or on its lower one. */
    ondrop?: (row: R, half: 'upper' | 'lower') => void;
  } = $props();

  /** Where what is dragged would come in. */
  let over = $state<{ readonly key: string; readonly half: 'upper' | 'lower' } | null>(null);

  function dragOver(event: DragEvent, row: R) {
    if (!ondrop) return;
    event.preventDefault();
    const { top, height: tall } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const half = event.clientY < top + tall / 2 ? 'upper' : 'lower';
    if (over?.key !== row.key || over.half !== half) over = { key: row.key, half };
  }

  function letGo(event: DragEvent, row: R) {
    if (!ondrop || !over) return;
    event.preventDefault();
    ondrop(row, over.half);
    over = null;
  }

  let body = $state<HTMLElement>();
  let height = $state(400);
  let slots = $state.raw<readonly Slot<R>[]>([]);
  let hurried = $state(false);
  const hurry = new Hurry(() => (hurried = false));

  const options = (count: number, size: number) =>
    inElement(() => body, { count, estimateSize: () => size, overscan: 2, onChange: show });
  const list = new Virtualizer<HTMLElement, HTMLElement>(options(0, 1));

  /** What was drawn for rows that left the screen is drawn anew for those that come: nothing is made while scrolling. */
  function show() {
    const shown = list.getVirtualItems();
    const first = shown[0]?.index ?? 0;
    hurried = hurry.moved(first, shown.length, performance.now());
    slots = slotsOf(rows, first, shown.length, slots);
  }

  onMount(() => list._didMount());
  onMount(() => () => hurry.stop());
  $effect(() => {
    list.setOptions(options(rows.length, rowHeight));
    list._willUpdate();
    untrack(show);
  });
  const uid = $props.id();
  const at = $derived(rows.findIndex(({ key }) => key === cursor));
  const idOf = (index: number) => `${uid}-row-${index}`;

  const STEPS: Readonly<Record<string, (from: number, page: number, last: number) => number>> = {
    ArrowDown: (from) => from + 1,
    ArrowUp: (from) => from - 1,
    PageDown: (from, page) => from + page,
    PageUp: (from, page) => from - page,
    Home: () => 0,
    End: (_from, _page, last) => last,
  };

  function keydown(event: KeyboardEvent) {
    if ((event.target as HTMLElement).closest('button, input, select, a')) return;
    const step = event.ctrlKey || event.metaKey || event.altKey ? undefined : STEPS[event.key];
    const current = rows[at] ?? null;
    if (step && rows.length > 0) {
      event.preventDefault();
      const wanted = step(at, Math.max(1, Math.floor(height / rowHeight) - 1), rows.length - 1);
      const next = Math.max(0, Math.min(rows.length - 1, wanted));
      onpick(rows[next] as R, event.shiftKey ? 'extend' : 'only');
      list.scrollToIndex(next, { align: 'auto' });
    } else if (event.key === ' ' && current) {
      event.preventDefault();
      onpick(current, 'toggle');
    } else onkey?.(event, current);
  }

  /** A cell whose text does not fit says all of it in its title, unless it has one of its own. */
  function tellClipped(event: PointerEvent) {
    const cell = (event.target as HTMLElement).closest<HTMLElement>('[role=gridcell]');
    if (!cell || (cell.title !== '' && cell.dataset.clipped === undefined)) return;
    const clipped = cell.scrollWidth > cell.clientWidth;
    cell.title = clipped ? (cell.textContent?.trim().replace(/\s+/g, ' ') ?? '') : '';
    if (clipped) cell.dataset.clipped = '';
    else delete cell.dataset.clipped;
  }

  function press(event: MouseEvent, row: R) {
    if ((event.target as HTMLElement).closest('button, input, select, a')) return;
    onpick(row, event.shiftKey ? 'extend' : event.ctrlKey || event.metaKey ? 'toggle' : 'only');
  }
</script>

<div
  class="ledger"
  class:hurried
  role="grid"
  tabindex="0"
  aria-label={label}
  aria-multiselectable="true"
  aria-rowcount={rows.length}
  aria-activedescendant={at >= 0 ? idOf(at) : undefined}
  onkeydown={keydown}
  style:--columns={columns}
>
  {#if head}
    <div class="head" role="row">{@render head()}</div>
  {/if}
  <div class="body" role="presentation" bind:this={body} bind:clientHeight={height}>
    <div class="all" role="presentation" style:height="{rows.length * rowHeight}px">
      {#each slots as { slot, index, row } (slot)}
        <!-- svelte-ignore a11y_click_events_have_key_events (the grid handles keys) -->
        <div
          id={idOf(index)}
          role="row"
          tabindex="-1"
          class="row"
          class:cursor={index === at}
          aria-rowindex={index + 1}
          aria-selected={isSelected(row)}
          style:height="{rowHeight}px"
          style:top="{index * rowHeight}px"
          onclick={(event) => press(event, row)}
          onpointerover={tellClipped}
          draggable={ondrag ? 'true' : undefined}
          data-over={over?.key === row.key ? over.half : undefined}
          ondragstart={() => ondrag?.(row)}
          ondragover={(event) => dragOver(event, row)}
          ondrop={(event) => letGo(event, row)}
          ondragend={() => {
            over = null;
            ondragend?.();
          }}
        >
          {@render drawRow(row)}
        </div>
      {/each}
    </div>
  </div>
</div>

<style>
  .ledger {
    display: flex;
    flex-direction: column;
    min-height: 0;
    flex: 1;
  }
  .ledger:focus-visible {
    outline: none;
  }
  .ledger:focus-visible .body {
    box-shadow: inset 0 0 0 1px var(--primary);
  }
  .head {
    display: grid;
    align-items: end;
    min-height: var(--row-head);
    padding: 0 16px 4px;
    font-size: var(--t-small);
    color: var(--ink-2);
    border-bottom: 1px solid var(--rule);
  }
  .body {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
    contain: strict;
  }
  .all {
    position: relative;
  }
  .row {
    position: absolute;
    inset-inline: 0;
    /* Placed by `top`: a transform would make each row a layer of its own to paint. */
    contain: strict;
    border-bottom: 1px solid var(--rule);
    background: var(--raised);
    user-select: none;
    outline: none;
  }
  .ledger :global(.cols) {
    display: grid;
    grid-template-columns: var(--columns);
    align-items: center;
    height: 100%;
  }
  .row :global(.cols) {
    padding: 0 16px 0 13px;
    border-left: 3px solid transparent;
  }
  .row :global(.cut) {
    padding-right: 10px;
  }
  /* No value runs over the next column. */
  .row :global([role='gridcell']) {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  /* A cell cuts off what lies outside of it: what is focused is marked inside. */
  .row :global([role='gridcell'] :focus-visible) {
    outline-offset: -2px;
  }
  /*
   * Rows that fly past show what tells them apart: to lay out all of their cells takes longer than a frame. What is laid
   * out is also garbage soon after, and collecting it goes through all that the page holds.
   */
  .hurried .row :global([role='gridcell']:nth-child(n + 4)) {
    display: none;
  }
  .row[aria-selected='true'] {
    background: var(--select);
  }
  .row[data-over='upper'] {
    box-shadow: inset 0 2px 0 var(--primary);
  }
  .row[data-over='lower'] {
    box-shadow: inset 0 -2px 0 var(--primary);
  }
  .ledger:focus-visible .row.cursor,
  .ledger:focus-within .row.cursor {
    box-shadow: inset 0 0 0 1.5px var(--primary);
  }
  @media (max-width: 760px) {
    .ledger {
      min-height: 160px;
      overflow-x: auto;
    }
    .head,
    .body {
      min-width: 620px;
    }
  }
</style>
