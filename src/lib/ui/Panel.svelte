<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A work surface of its own in place of a board's list: a title with its tools, and below it what is worked on. */
  let {
    title,
    tools,
    fits = false,
    children,
  }: {
    title: string;
    /** What stands beside the title. */
    tools?: Snippet;
    /** Only a part of it scrolls, which it sees to itself. */
    fits?: boolean;
    children: Snippet;
  } = $props();
</script>

<div class="panel" class:fits>
  <header>
    <h1>{title}</h1>
    {@render tools?.()}
  </header>
  {@render children()}
</div>

<style>
  .panel {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
  }
  .panel.fits {
    display: flex;
    flex-direction: column;
    overflow: hidden;
  }
  header {
    display: flex;
    align-items: center;
    gap: 12px;
    flex: none;
    min-height: 42px;
    padding: 6px 16px;
  }
  h1 {
    font-size: var(--t-title);
  }
  header :global(form) {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-left: auto;
    color: var(--ink-2);
  }
  .panel :global(.end) {
    display: flex;
    gap: 8px;
    margin-left: auto;
  }
  .panel
    :global(:is(select, input[type='text'], input[type='number'], input[type='url'], input:not([type]))) {
    height: 26px;
    padding: 0 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    color: var(--ink);
  }
  .panel :global(.cols input) {
    width: calc(100% - 8px);
  }
  .panel :global(.trouble) {
    color: var(--blocks-ink);
  }
  .panel :global(.odd) {
    color: var(--attention-ink);
  }
</style>
