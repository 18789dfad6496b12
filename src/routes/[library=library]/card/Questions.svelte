<script lang="ts">
  import type { Snippet } from 'svelte';

  /** The answers of a card: each question a section with a heading, and beside it what is said in small. */
  let { children }: { children: Snippet } = $props();
</script>

<div class="questions">{@render children()}</div>

<style>
  .questions {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
    font-size: var(--t-read);
  }
  .questions :global(section) {
    padding: 10px 16px 12px;
    border-bottom: 1px solid var(--rule);
  }
  .questions :global(h3) {
    display: flex;
    align-items: baseline;
    justify-content: space-between;
    gap: 8px;
    margin-bottom: 4px;
    font-size: var(--t-sub);
  }
  .questions :global(h3 small) {
    font: 400 var(--t-small) var(--font-body);
    color: var(--ink-3);
    text-align: right;
  }
</style>
