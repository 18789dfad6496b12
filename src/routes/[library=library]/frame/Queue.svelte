<script lang="ts">
  import List from '@lucide/svelte/icons/list-ordered';
  import { getSession } from '$lib/state/session.svelte';

  /** Opens what is played one after the other. */
  const { playback } = getSession();

  let isOpen = $state(false);
  let around = $state<HTMLElement>();
  let opener = $state<HTMLButtonElement>();

  /** It closes once the focus has gone elsewhere. */
  function leave(event: FocusEvent) {
    if (event.relatedTarget && !around?.contains(event.relatedTarget as Node)) isOpen = false;
  }

  function onkey(event: KeyboardEvent) {
    if (event.key !== 'Escape' || !isOpen) return;
    isOpen = false;
    opener?.focus();
  }
</script>

<svelte:window
  onpointerdown={(event) => {
    if (isOpen && !around?.contains(event.target as Node)) isOpen = false;
  }}
/>

<div class="around" bind:this={around} onfocusout={leave} onkeydown={onkey} role="presentation">
  <button
    class="open"
    bind:this={opener}
    aria-label="What is played"
    title={playback.at >= 0 ? `${playback.at + 1} of ${playback.queue.length}` : 'What is played'}
    aria-expanded={isOpen}
    onclick={() => (isOpen = !isOpen)}><List size={15} /></button
  >
  {#if isOpen}
    {#await import('./QueueSheet.svelte') then { default: QueueSheet }}
      <QueueSheet />
    {/await}
  {/if}
</div>

<style>
  .around {
    position: relative;
    flex: none;
  }
  .open {
    display: grid;
    place-items: center;
    width: 22px;
    height: 24px;
    color: var(--ink-2);
  }
  .open[aria-expanded='true'] {
    background: var(--select);
    color: var(--primary-ink);
  }
</style>
