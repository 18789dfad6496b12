<script lang="ts">
  import Check from '@lucide/svelte/icons/check';
  import type { Proof } from '$lib/core/plan';
  import { counted } from '$lib/ui/words/amounts';
  import { DIFFERENCE_WORDS } from '$lib/ui/words/run-words';

  /** The player's own scan, held against the rehearsal. */
  let { proof, player }: { proof: Proof; player: string } = $props();
</script>

<section aria-label="Proof" class:differs={proof.differences.length > 0}>
  {#if proof.differences.length === 0}
    <h2>
      <Check size={16} />
      {player} shows {proof.agreed === 1
        ? 'the one item'
        : `all ${proof.agreed.toLocaleString('en')}`}{proof.lists > 0
        ? ` and ${counted(proof.lists, 'list')}`
        : ''} as rehearsed
    </h2>
  {:else}
    <h2>{player} shows {counted(proof.differences.length, 'thing')} differently than rehearsed</h2>
    <ul>
      {#each proof.differences.slice(0, 100) as { path, what, rehearsed, shown }, index (index)}
        <li>
          <span class="path">{path}</span>
          <b>{DIFFERENCE_WORDS[what]}</b>: rehearsed {rehearsed}, shown {shown}
        </li>
      {/each}
    </ul>
  {/if}
  <p class="quiet">
    read from {player}’s own scan of its disk{#if proof.foreign > 0}; {counted(proof.foreign, 'item')} of its own
      as well{/if}
  </p>
</section>

<style>
  section {
    margin: 12px 16px 0;
    padding: 8px 12px;
    border-left: 4px solid var(--settled);
    background: var(--settled-tint);
  }
  section.differs {
    border-color: var(--blocks);
    background: var(--blocks-tint);
  }
  h2 {
    display: flex;
    align-items: center;
    gap: 6px;
    font-size: var(--t-sub);
    color: var(--settled-ink);
  }
  .differs h2 {
    color: var(--blocks-ink);
  }
  ul {
    max-height: 200px;
    overflow: auto;
    margin: 4px 0;
  }
  li {
    padding: 2px 0;
    overflow-wrap: anywhere;
  }
  .quiet {
    color: var(--ink-2);
  }
</style>
