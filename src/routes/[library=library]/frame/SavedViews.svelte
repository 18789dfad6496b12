<script lang="ts">
  import Bookmark from '@lucide/svelte/icons/bookmark';
  import { sameView } from '$lib/core/browse';
  import { getSession } from '$lib/state/session.svelte';

  /** Views that were kept: what is looked at, and how it is grouped. */
  const session = getSession();
  const { library, scope } = session;

  let isOpen = $state(false);
  let around = $state<HTMLElement>();
  let opener = $state<HTMLButtonElement>();

  const levels = $derived(scope.levels[scope.board]);
  const current = $derived(library.views.find((view) => sameView(view, scope.scope, levels)) ?? null);

  function close() {
    isOpen = false;
    opener?.focus();
  }

  /** It closes once the focus has gone elsewhere. */
  function leave(event: FocusEvent) {
    if (event.relatedTarget && !around?.contains(event.relatedTarget as Node)) isOpen = false;
  }

  function onkey(event: KeyboardEvent) {
    if (event.key === 'Escape' && isOpen) close();
  }
</script>

<svelte:window
  onpointerdown={(event) => {
    if (isOpen && !around?.contains(event.target as Node)) isOpen = false;
  }}
/>

<div class="around" bind:this={around} onfocusout={leave} onkeydown={onkey} role="presentation">
  <button
    class="views"
    bind:this={opener}
    aria-label={current ? `Views: ${current.name}` : 'Views'}
    aria-expanded={isOpen}
    onclick={() => (isOpen = !isOpen)}
  >
    <Bookmark size={15} fill={current ? 'currentColor' : 'none'} aria-hidden="true" />
    <span>{current?.name ?? 'views'}</span>
  </button>
  {#if isOpen}
    {#await import('./ViewsSheet.svelte') then { default: ViewsSheet }}
      <ViewsSheet {levels} {current} onend={close} />
    {/await}
  {/if}
</div>

<style>
  .around {
    position: relative;
  }
  .views {
    display: flex;
    align-items: center;
    gap: 5px;
    max-width: 130px;
    color: var(--ink-2);
    white-space: nowrap;
  }
  .views span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
</style>
