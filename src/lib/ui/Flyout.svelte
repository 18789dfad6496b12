<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A button with what it opens beside it, which closes once something else is looked at. */
  let {
    label,
    title,
    look,
    button,
    children,
  }: {
    label: string;
    title?: string;
    /** `btn` is a button like others, `words` a line of text, `icon` a small picture. */
    look: 'btn' | 'words' | 'icon';
    button: Snippet;
    /** What is opened, with what closes it. */
    children: Snippet<[close: () => void]>;
  } = $props();

  let isOpen = $state(false);
  let around = $state<HTMLElement>();
  let opener = $state<HTMLButtonElement>();

  function close() {
    isOpen = false;
    opener?.focus();
  }

  /** The focus has gone elsewhere. */
  function leave(event: FocusEvent) {
    if (event.relatedTarget && !around?.contains(event.relatedTarget as Node)) isOpen = false;
  }
</script>

<svelte:window
  onpointerdown={(event) => {
    if (isOpen && !around?.contains(event.target as Node)) isOpen = false;
  }}
/>

<div
  class="around"
  bind:this={around}
  onfocusout={leave}
  onkeydown={(event) => event.key === 'Escape' && isOpen && close()}
  role="presentation"
>
  <button
    class={look}
    bind:this={opener}
    aria-label={label}
    {title}
    aria-expanded={isOpen}
    onclick={() => (isOpen = !isOpen)}>{@render button()}</button
  >
  {#if isOpen}{@render children(close)}{/if}
</div>

<style>
  .around {
    position: relative;
    flex: none;
  }
  .btn {
    height: 28px;
  }
  .words {
    display: flex;
    align-items: center;
    gap: 5px;
    max-width: 130px;
    color: var(--ink-2);
    white-space: nowrap;
  }
  .icon {
    display: grid;
    place-items: center;
    width: 22px;
    height: 24px;
    color: var(--ink-2);
  }
  .icon[aria-expanded='true'] {
    background: var(--select);
    color: var(--primary-ink);
  }
</style>
