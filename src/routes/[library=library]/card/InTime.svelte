<script lang="ts">
  import { clock, counted } from '$lib/ui/words/amounts';

  /** What has its time in an item, under what it is called. */
  let {
    label,
    said,
  }: { label: string; said: readonly { readonly startSeconds: number; readonly text: string }[] } = $props();

  const MOST = 40;
</script>

<h4>{label}</h4>
<ol aria-label={label}>
  {#each said.slice(0, MOST) as { startSeconds, text }, index (index)}
    <li><span class="path quiet">{clock(startSeconds)}</span><span>{text}</span></li>
  {/each}
</ol>
{#if said.length > MOST}<p class="quiet">and {counted(said.length - MOST, 'more', 'more')}</p>{/if}

<style>
  h4 {
    margin-top: 8px;
    color: var(--ink-2);
    font-weight: 400;
  }
  li {
    display: grid;
    grid-template-columns: 64px 1fr;
    overflow-wrap: anywhere;
  }
</style>
