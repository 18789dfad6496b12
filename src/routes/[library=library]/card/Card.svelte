<script lang="ts">
  import PanelClose from '@lucide/svelte/icons/panel-right-close';
  import PanelOpen from '@lucide/svelte/icons/panel-right-open';
  import { titleOf } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import type { Board } from '$lib/state/scope.svelte';

  let { folded, board, onfold }: { folded: boolean; board: Board; onfold: () => void } = $props();
  const session = getSession();
  const selected = $derived.by(() => {
    const { items } = session.selection;
    const [first] = items;
    return first && items.length === 1 ? titleOf(first) : `${items.length} selected`;
  });
</script>

<aside aria-label="Card">
  <button
    class="fold"
    onclick={onfold}
    disabled={session.aside}
    aria-label={folded ? 'Unfold the card' : 'Fold the card'}
    aria-expanded={!folded}
  >
    {#if folded}<PanelOpen size={16} />{:else}<PanelClose size={16} />{/if}
  </button>
  {#if folded}
    <button class="peek" tabindex="-1" aria-hidden="true" onclick={onfold}>
      {board === 'players' ? 'Player' : selected}
    </button>
  {/if}
  {#if !folded}
    {#if board === 'players'}
      {#await import('./PlayerCard.svelte') then { default: PlayerCard }}<PlayerCard />{/await}
    {:else if board === 'prepare' && session.selection.items.length > 0}
      {#await import('./PrepareCard.svelte') then { default: PrepareCard }}<PrepareCard
          items={session.selection.items}
        />{/await}
    {:else if session.selection.items.length > 0}
      {#await import('./ItemCard.svelte') then { default: ItemCard }}<ItemCard
          items={session.selection.items}
        />{/await}
    {:else}
      <p class="none quiet">
        Select items to see and edit what they are, where they belong and what is inside them.
      </p>
    {/if}
  {/if}
</aside>

<style>
  aside {
    position: relative;
    display: flex;
    flex-direction: column;
    min-height: 0;
    border-left: 1px solid var(--rule-strong);
    background: var(--base);
  }
  .fold {
    position: absolute;
    top: 14px;
    right: 12px;
    z-index: 1;
    padding: 2px;
  }
  .peek {
    display: none;
  }
  @media (max-width: 760px) {
    aside {
      border-top: 1px solid var(--rule-strong);
      border-left: 0;
    }
    aside:not(:has(.peek)) {
      position: absolute;
      inset: 0;
      z-index: 6;
    }
    .peek {
      display: block;
      height: 43px;
      padding: 0 48px 0 16px;
      overflow: hidden;
      text-align: left;
      text-overflow: ellipsis;
      white-space: nowrap;
      font-weight: 600;
    }
    .fold {
      padding: 6px;
      top: 6px;
      rotate: 90deg;
    }
  }
  .none {
    padding: 20px 48px 20px 16px;
    font-size: var(--t-read);
  }
</style>
