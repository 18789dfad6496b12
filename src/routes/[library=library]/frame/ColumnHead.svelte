<script lang="ts">
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import { NARROWEST, WIDEST } from '$lib/state/columns.svelte';
  import type { Head } from './heads';

  /** The head of a column: what it is, put in order by it, and drawn wider or narrower at its end. */
  let { head }: { head: Head } = $props();

  const STEP = 8;
  const KEYS: Readonly<Record<string, number>> = { ArrowLeft: -STEP, ArrowRight: STEP };

  function drag(event: PointerEvent) {
    const { widen } = head;
    if (!widen || event.button !== 0) return;
    event.preventDefault();
    const edge = event.currentTarget as HTMLElement;
    // Shares of the width are pixels only where all of them fit: the head tells how many one share is.
    const share = (edge.parentElement?.clientWidth ?? 0) / widen.width || 1;
    edge.setPointerCapture(event.pointerId);
    edge.onpointermove = ({ movementX }) => widen.by(movementX / share);
    edge.onpointerup = edge.onpointercancel = () => {
      edge.onpointermove = edge.onpointerup = edge.onpointercancel = null;
    };
  }

  function onkey(event: KeyboardEvent) {
    const step = KEYS[event.key];
    if (step === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    head.widen?.by(step);
  }
</script>

{#if head.name === ''}
  <span></span>
{:else}
  <span
    class="head-cell"
    class:right={head.right}
    class:tight={head.isTight}
    role="columnheader"
    aria-label={head.name}
    aria-sort={head.order ? (head.order.is ?? 'none') : undefined}
  >
    {#if head.order}
      <button class="sort" class:by={head.order.is !== null} onclick={head.order.by}
        ><span>{head.name}</span>{#if head.order.is === 'descending'}<ArrowDown
            size={12}
            aria-hidden="true"
          />{:else if head.order.is === 'ascending'}<ArrowUp size={12} aria-hidden="true" />{/if}</button
      >
    {:else}{head.name}{/if}
    {#if head.widen}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions (a separator that can be focused is a control by ARIA 1.2) -->
      <span
        class="edge"
        role="separator"
        aria-orientation="vertical"
        aria-label="Width of {head.name}"
        aria-valuenow={Math.round(head.widen.width)}
        aria-valuemin={NARROWEST}
        aria-valuemax={WIDEST}
        tabindex="0"
        onpointerdown={drag}
        onkeydown={onkey}
      ></span>
    {/if}
  </span>
{/if}

<style>
  .head-cell {
    position: relative;
    min-width: 0;
    padding-right: 10px;
  }
  .head-cell.right {
    text-align: right;
  }
  .head-cell.tight {
    padding-right: 4px;
    text-align: center;
    letter-spacing: -0.02em;
  }
  .tight .sort {
    justify-content: center;
    max-width: none;
    margin-inline: -4px;
    gap: 0;
  }
  .sort {
    display: inline-flex;
    align-items: center;
    gap: 3px;
    max-width: 100%;
    white-space: nowrap;
  }
  .sort span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .sort.by {
    color: var(--ink);
    font-weight: 600;
  }
  .edge {
    position: absolute;
    inset-block: -4px;
    right: 1px;
    width: 9px;
    cursor: col-resize;
    touch-action: none;
  }
  .edge::after {
    content: '';
    position: absolute;
    inset-block: 3px;
    left: 4px;
    border-left: 1px solid var(--rule);
  }
  .edge:is(:hover, :focus-visible)::after {
    border-left: 2px solid var(--primary);
  }
</style>
