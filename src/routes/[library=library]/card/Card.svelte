<script lang="ts">
  import PanelClose from '@lucide/svelte/icons/panel-right-close';
  import PanelOpen from '@lucide/svelte/icons/panel-right-open';
  import { getSession } from '$lib/state/session.svelte';
  import type { Board } from '$lib/state/scope.svelte';

  let { folded, board, onfold }: { folded: boolean; board: Board; onfold: () => void } = $props();
  const session = getSession();
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
  .none {
    padding: 20px 48px 20px 16px;
    font-size: var(--t-read);
  }
</style>
